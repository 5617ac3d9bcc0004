import { keepWrittenChanges } from '../../../server/library/takes/harmony.ts';
import { endpoint, readBody } from '../_answer.ts';
import { writtenChangesSchema } from '../../../requests/changes.ts';

/** Keeps changes that were written here. */
export const POST = endpoint(async ({ db }, context) => {
  const kept = await keepWrittenChanges(db, await readBody(context, writtenChangesSchema));
  return Response.json(kept, { status: 201 });
});
