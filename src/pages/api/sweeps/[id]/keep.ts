import { keepRuns } from '../../../../server/library/takes/sweeps.ts';
import { endpoint, pathId, readBody } from '../../_answer.ts';
import { keepRunsSchema } from '../../../../requests/sweep.ts';

/** Keeps runs as phrases, tagged with what was set for them. */
export const POST = endpoint(async (library, context) => {
  const { runs } = await readBody(context, keepRunsSchema);
  return Response.json(await keepRuns(library, pathId(context), runs), { status: 201 });
});
