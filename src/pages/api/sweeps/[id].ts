import { workOn } from '../../../server/jobs/engine.ts';
import { SWEEPS } from '../../../server/jobs/sweep.ts';
import { getSweep, setSweepState } from '../../../server/library/takes/sweeps.ts';
import { endpoint, pathId, readBody } from '../_answer.ts';
import { sweepStateSchema } from '../../../requests/sweep.ts';

export const GET = endpoint(({ db }, context) => getSweep(db, pathId(context)));

/** Stops it after the run that is under way, or goes on with it. */
export const PATCH = endpoint(async (library, context) => {
  const id = pathId(context);
  const { state } = await readBody(context, sweepStateSchema);
  await setSweepState(library.db, id, state);
  if (state === 'running') void workOn(library, SWEEPS, id);
  return getSweep(library.db, id);
});
