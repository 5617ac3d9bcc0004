import { didWords } from '../../../../core/split/did.ts';
import { moveOnTake } from '../../../../server/library/takes/take-moves.ts';
import { endpoint, pathId, readBody } from '../../_answer.ts';
import { moveSchema, seenSchema } from '../../../../requests/moves.ts';

/** Does one more move on the take's split. */
export const POST = endpoint(async ({ db }, context) => {
  const { move, revision } = await readBody(context, seenSchema.shape({ move: moveSchema }));
  const moved = await moveOnTake(db, pathId(context), move, revision);
  context.locals.did = didWords(move);
  return moved;
});
