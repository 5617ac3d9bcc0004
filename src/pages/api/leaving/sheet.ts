import { leavingSheet } from '../../../server/library/handoff/leaving.ts';
import { endpoint, readBody } from '../_answer.ts';
import { sheetSchema } from '../../../requests/leaving.ts';

/** A sheet of something, for whoever reads. */
export const POST = endpoint(async ({ db }, context) => {
  const { as, ...request } = await readBody(context, sheetSchema);
  return leavingSheet(db, request, as);
});
