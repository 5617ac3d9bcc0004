import { forgetSearch } from '../../../server/library/phrases/searches.ts';
import { endpoint, pathId } from '../_answer.ts';

export const DELETE = endpoint(({ db }, context) => forgetSearch(db, pathId(context)));
