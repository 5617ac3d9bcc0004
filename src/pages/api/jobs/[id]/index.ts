import { getJob, itemsOf } from '../../../../server/library/jobs.ts';
import { passesAmong, takeBriefs } from '../../../../server/library/takes/take-list.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** Files that are listed, and among which passes are looked for, at most. */
const FILES_TOLD = 500;

/**
 * A job, its files with what came of them (those that were refused first), what is known of their takes, and which
 * of them look like passes of one performance.
 */
export const GET = endpoint(async ({ db }, context) => {
  const id = pathId(context);
  const job = await getJob(db, id);
  const items = await itemsOf(db, id, { limit: FILES_TOLD });
  const ids = items.flatMap(({ takeId }) => (takeId ? [takeId] : []));
  const fresh = items.flatMap(({ state, takeId }) => (state === 'taken' && takeId ? [takeId] : []));
  return {
    ...job,
    items: items.map(({ path: _, ...item }) => item),
    takes: await takeBriefs(db, ids),
    passes: job.state === 'running' ? [] : await passesAmong(db, fresh),
  };
});
