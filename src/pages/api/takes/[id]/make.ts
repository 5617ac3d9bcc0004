import { makeWhole } from '../../../../server/library/phrases/make-phrases.ts';
import { endpoint, pathId, readBody } from '../../_answer.ts';
import { projectChoiceSchema } from '../../../../requests/making.ts';

/** Makes drafts of all bars of every part. */
export const POST = endpoint(async ({ db }, context) => {
  const { projectId } = await readBody(context, projectChoiceSchema);
  return Response.json(await makeWhole(db, pathId(context), projectId ?? null), { status: 201 });
});
