import type { RecordingPlan } from '../../../core/capture/recording.ts';
import { beginCapture, unfinishedCaptures } from '../../../server/library/takes/captures.ts';
import { endpoint, readBody } from '../_answer.ts';
import { planSchema } from '../../../requests/captures.ts';

/** Recordings that were not finished. */
export const GET = endpoint(async ({ db }) => ({ captures: await unfinishedCaptures(db) }));

/** Begins to keep a recording. */
export const POST = endpoint(async ({ db }, context) => {
  const plan = (await readBody(context, planSchema)) as RecordingPlan;
  return Response.json(await beginCapture(db, plan), { status: 201 });
});
