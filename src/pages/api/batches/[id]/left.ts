import { getBatch, leaveOut } from '../../../../server/library/phrases/batches.ts';
import { endpoint, pathId, readBody } from '../../_answer.ts';
import { leaveOutSchema } from '../../../../requests/recipes.ts';

/** Leaves phrases out of what will be done, or takes them in again. */
export const POST = endpoint(async ({ db }, context) => {
  const id = pathId(context);
  const { phraseIds, out } = await readBody(context, leaveOutSchema);
  await leaveOut(db, id, phraseIds, out);
  return getBatch(db, id);
});
