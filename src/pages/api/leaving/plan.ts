import { planLeaving } from '../../../server/library/handoff/leaving.ts';
import { endpoint, readBody } from '../_answer.ts';
import { leavingSchema } from '../../../requests/leaving.ts';

/** What would be written, before anything is. */
export const POST = endpoint(async ({ db }, context) =>
  planLeaving(db, await readBody(context, leavingSchema)),
);
