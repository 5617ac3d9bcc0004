import { createWeave, listWeaves } from '../../../server/library/weaves.ts';
import { endpoint, readBody } from '../_answer.ts';
import { checkedWeave, newWeaveSchema } from '../../../requests/weave.ts';

export const GET = endpoint(async ({ db }) => ({ weaves: await listWeaves(db) }));

/** Keeps a new weave. */
export const POST = endpoint(async ({ db }, context) => {
  const { weave, projectId } = await readBody(context, newWeaveSchema);
  return Response.json(await createWeave(db, checkedWeave(weave), projectId), { status: 201 });
});
