import { stepMoves } from '../../../../server/library/takes/take-moves.ts';
import { endpoint, pathId, readBodyIfAny } from '../../_answer.ts';
import { seenSchema } from '../../../../requests/moves.ts';

/** Takes the last move back. */
export const POST = endpoint(async ({ db }, context) => {
  const { revision } = await readBodyIfAny(context, seenSchema);
  return stepMoves(db, pathId(context), -1, revision);
});
