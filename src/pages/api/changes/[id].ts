import { editChanges } from '../../../server/library/takes/harmony.ts';
import { endpoint, pathId, readBody } from '../_answer.ts';
import { changesEditSchema } from '../../../requests/changes.ts';

/** Renames kept changes, or sets them aside and brings them back. */
export const PATCH = endpoint(async ({ db }, context) => {
  await editChanges(db, pathId(context), await readBody(context, changesEditSchema));
  return new Response(null, { status: 204 });
});
