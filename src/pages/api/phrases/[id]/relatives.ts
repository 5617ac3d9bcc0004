import { relativesOf } from '../../../../server/library/phrases/children.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** What a phrase was made of, and what was made of it. */
export const GET = endpoint(({ db }, context) => relativesOf(db, pathId(context)));
