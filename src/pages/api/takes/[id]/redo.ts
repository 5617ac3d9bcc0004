import { stepMoves } from '../../../../server/library/takes/take-moves.ts';
import { endpoint, pathId, readBodyIfAny } from '../../_answer.ts';
import { seenSchema } from '../../../../requests/moves.ts';

/** Does the next move again that was taken back. */
export const POST = endpoint(async ({ db }, context) => {
  const { revision } = await readBodyIfAny(context, seenSchema);
  return stepMoves(db, pathId(context), 1, revision);
});
