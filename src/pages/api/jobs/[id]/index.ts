import { getJob, itemsOf } from '../../../../server/library/jobs.ts';
import { passesAmong } from '../../../../server/library/takes.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** Passes are looked for among so many files at most. */
const PASSES_AMONG = 500;

/** A job, its newest files with what came of them, and which of its takes look like passes of one performance. */
export const GET = endpoint(async ({ db }, context) => {
  const id = pathId(context);
  const job = await getJob(db, id);
  const items = await itemsOf(db, id, { limit: PASSES_AMONG });
  const ids = items.flatMap(({ state, takeId }) => (state === 'taken' && takeId ? [takeId] : []));
  const passes = job.state === 'running' ? [] : await passesAmong(db, ids);
  return { ...job, items: items.map(({ path: _, ...item }) => item), passes };
});
