import { LibraryError } from '../../../../../server/library/errors.ts';
import { writeRecordedRun } from '../../../../../server/library/sweeps.ts';
import { endpoint, pathId, readBody } from '../../../_answer.ts';
import { sweepRunSchema } from '../../../_sweep.ts';

/** What a device answered in a run, recorded by the page that has it. */
export const PUT = endpoint(async ({ db }, context) => {
  const position = Number(context.params.position);
  if (!Number.isInteger(position) || position < 0) throw new LibraryError(404, 'There is no such run.');
  await writeRecordedRun(db, pathId(context), position, await readBody(context, sweepRunSchema));
});
