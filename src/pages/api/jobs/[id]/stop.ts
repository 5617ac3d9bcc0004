import { endJob, getJob } from '../../../../server/library/jobs.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** Ends a job after what is being read. What was taken in stays. */
export const POST = endpoint(async ({ db }, context) => {
  const id = pathId(context);
  await endJob(db, id, 'stopped');
  return getJob(db, id);
});
