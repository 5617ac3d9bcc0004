import { baseOfTake } from '../../../../server/library/takes/takes.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** The first split of the take, as it was found when it came in: what its moves stand on. */
export const GET = endpoint(({ db }, context) => baseOfTake(db, pathId(context)));
