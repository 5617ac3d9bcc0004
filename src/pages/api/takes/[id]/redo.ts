import { stepMoves } from '../../../../server/library/take-moves.ts';
import { endpoint, pathId, readBody } from '../../_answer.ts';
import { seenSchema } from '../../_schemas.ts';

/** Does the next move again that was taken back. */
export const POST = endpoint(async ({ db }, context) => {
  const { revision } = await readBody(context, seenSchema);
  return stepMoves(db, pathId(context), 1, revision);
});
