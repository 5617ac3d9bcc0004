import { batchTable, getBatch, setPhase } from '../../../../server/library/phrases/batches.ts';
import { workOn } from '../../../../server/jobs/engine.ts';
import { BATCHES } from '../../../../server/jobs/batch.ts';
import { endpoint, pathId, readBody } from '../../_answer.ts';
import { batchPhaseSchema } from '../../../../requests/recipes.ts';

/** How far it is; with `rows`, what would change about each phrase. */
export const GET = endpoint(async ({ db }, context) => {
  const id = pathId(context);
  const batch = await getBatch(db, id);
  return context.url.searchParams.has('rows') ? { ...batch, rows: await batchTable(db, id) } : batch;
});

/** Does what was looked at, stops, or takes back what was done. */
export const PATCH = endpoint(async (library, context) => {
  const id = pathId(context);
  const { phase } = await readBody(context, batchPhaseSchema);
  const batch = await setPhase(library.db, id, phase);
  void workOn(library, BATCHES, id);
  return batch;
});
