import { keepComp } from '../../../../server/library/takes/comps.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** Keeps what was taken as a take of its own. */
export const POST = endpoint(async (library, context) =>
  Response.json(await keepComp(library, pathId(context)), { status: 201 }),
);
