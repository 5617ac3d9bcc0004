import { batchTable, getBatch, setPhase } from '../../../../server/library/batches.ts';
import { workOnBatch } from '../../../../server/jobs/batch.ts';
import { endpoint, pathId, readBody } from '../../_answer.ts';
import { batchPhaseSchema } from '../../_schemas.ts';

export const GET = endpoint(async ({ db }, context) => {
  const id = pathId(context);
  return { ...(await getBatch(db, id)), rows: await batchTable(db, id) };
});

/** Does what was looked at, stops, or takes back what was done. */
export const PATCH = endpoint(async (library, context) => {
  const id = pathId(context);
  const { phase } = await readBody(context, batchPhaseSchema);
  const batch = await setPhase(library.db, id, phase);
  void workOnBatch(library, id);
  return batch;
});
