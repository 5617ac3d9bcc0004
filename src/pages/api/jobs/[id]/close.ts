import { workOn } from '../../../../server/jobs/engine.ts';
import { INTAKES } from '../../../../server/jobs/intake.ts';
import { closeIntake, getJob } from '../../../../server/library/jobs.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** All files have been sent. */
export const POST = endpoint(async (library, context) => {
  const id = pathId(context);
  await getJob(library.db, id);
  await closeIntake(library.db, id);
  void workOn(library, INTAKES, id);
});
