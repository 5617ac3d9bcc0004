import { getJob, refusedCsv } from '../../../../server/library/jobs.ts';
import { download, endpoint, pathId } from '../../_answer.ts';

/** What was refused and why, as CSV. */
export const GET = endpoint(async ({ db }, context) => {
  const id = pathId(context);
  await getJob(db, id);
  return download(
    new TextEncoder().encode(await refusedCsv(db, id)),
    'refused-files.csv',
    'text/csv; charset=utf-8',
  );
});
