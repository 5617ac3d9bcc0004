import { LibraryError } from '../../../../../server/library/errors.ts';
import { writeRecordedRun } from '../../../../../server/library/takes/sweeps.ts';
import { tellProgress } from '../../../../../server/live/progress.ts';
import { endpoint, pathId, readBody } from '../../../_answer.ts';
import { sweepRunSchema } from '../../../../../requests/sweep.ts';

/** What a device answered in a run, recorded by the page that has it. */
export const PUT = endpoint(async (library, context) => {
  const position = Number(context.params.position);
  if (!Number.isInteger(position) || position < 0) throw new LibraryError(404, 'There is no such run.');
  const id = pathId(context);
  await writeRecordedRun(library.db, id, position, await readBody(context, sweepRunSchema));
  tellProgress(library, { work: 'sweep', id, isOver: true });
});
