import { stepMoves } from '../../../../server/library/takes.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** Takes the last move back. */
export const POST = endpoint(({ db }, context) => stepMoves(db, pathId(context), -1));
