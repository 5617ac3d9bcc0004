import { getBasket, removeBasket, updateBasket } from '../../../../server/library/handoff/baskets.ts';
import { endpoint, pathId, readBody } from '../../_answer.ts';
import { basketChangeSchema } from '../../../../requests/baskets.ts';

export const GET = endpoint(({ db }, context) => getBasket(db, pathId(context)));

export const PATCH = endpoint(async ({ db }, context) =>
  updateBasket(db, pathId(context), await readBody(context, basketChangeSchema)),
);

export const DELETE = endpoint(({ db }, context) => removeBasket(db, pathId(context)));
