import { keepTake } from '../../../../server/library/phrases/make-phrases.ts';
import { endpoint, pathId, readBody } from '../../_answer.ts';
import { projectChoiceSchema } from '../../../../requests/making.ts';

/** Makes the phrase of a take of one clean part, kept at the house standard, and says what was done. */
export const POST = endpoint(async ({ db }, context) => {
  const { projectId } = await readBody(context, projectChoiceSchema);
  return keepTake(db, pathId(context), projectId ?? null);
});
