import { workOn } from '../../../../server/jobs/engine.ts';
import { INTAKES } from '../../../../server/jobs/intake.ts';
import { offeredIn } from '../../../../server/jobs/mirror.ts';
import { LibraryError } from '../../../../server/library/errors.ts';
import { intakeOf } from '../../../../server/library/jobs.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** Takes in what others have put into a mirror, and what they have changed of ours. The files stay where they are. */
export const POST = endpoint(async (library, context) => {
  const files = offeredIn(library, pathId(context));
  if (files.length === 0) throw new LibraryError(422, 'Nothing stands in this mirror that is not ours.');
  const job = await intakeOf(library.db, 'inbox', { source: 'Mirror' }, files);
  void workOn(library, INTAKES, job.id).catch((error: unknown) => console.error(error));
  return { jobId: job.id };
});
