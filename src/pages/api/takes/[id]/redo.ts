import { stepMoves } from '../../../../server/library/takes.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** Does the next move again that was taken back. */
export const POST = endpoint(({ db }, context) => stepMoves(db, pathId(context), 1));
