import { workOn } from '../../../server/jobs/engine.ts';
import { SWEEPS } from '../../../server/jobs/sweep.ts';
import { createSweep, getSweep, listSweeps } from '../../../server/library/takes/sweeps.ts';
import { endpoint, readBody } from '../_answer.ts';
import { planOf, sweepPlanSchema } from '../../../requests/sweep.ts';

export const GET = endpoint(async ({ db }) => ({ sweeps: await listSweeps(db) }));

/** Begins a sweep: a stand-in's goes on here, a device's in the page that has the device. */
export const POST = endpoint(async (library, context) => {
  const { id } = await createSweep(library.db, planOf(await readBody(context, sweepPlanSchema)));
  void workOn(library, SWEEPS, id);
  return Response.json(await getSweep(library.db, id), { status: 201 });
});
