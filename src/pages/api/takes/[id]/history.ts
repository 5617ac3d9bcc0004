import { goToMove, restoreMoves } from '../../../../server/library/takes/take-moves.ts';
import { LibraryError } from '../../../../server/library/errors.ts';
import { endpoint, pathId, readBody } from '../../_answer.ts';
import { historySchema } from '../../../../requests/moves.ts';

/** Goes to a place in the history of a take: so many moves are done; or brings a history back that was dropped. */
export const POST = endpoint(async ({ db }, context) => {
  const { done, restore, revision } = await readBody(context, historySchema);
  if (restore !== undefined) return restoreMoves(db, pathId(context), restore, revision);
  if (done === undefined) throw new LibraryError(400, '"done" says how many moves are done.');
  return goToMove(db, pathId(context), done, revision);
});
