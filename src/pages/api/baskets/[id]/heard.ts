import { heardInBasket } from '../../../../server/people/guests.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** A phrase of the basket (`phrase`), to be listened to. */
export const GET = endpoint(({ db }, context) =>
  heardInBasket(db, pathId(context), context.url.searchParams.get('phrase') ?? ''),
);
