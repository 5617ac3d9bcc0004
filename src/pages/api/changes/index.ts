import { keepChanges, listChanges } from '../../../server/library/takes/harmony.ts';
import { endpoint, readBody } from '../_answer.ts';
import { keepChangesSchema } from '../../../requests/changes.ts';

export const GET = endpoint(async ({ db }) => ({ changes: await listChanges(db) }));

/** Keeps the changes of some bars of a take under their key. */
export const POST = endpoint(async ({ db }, context) => {
  const kept = await keepChanges(db, await readBody(context, keepChangesSchema));
  return Response.json(kept, { status: 201 });
});
