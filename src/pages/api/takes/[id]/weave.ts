import { weaveOfTake } from '../../../../server/library/weave-of-take.ts';
import { endpoint, pathId, readBody } from '../../_answer.ts';
import { weaveOfTakeSchema } from '../../../../requests/weave.ts';

/** Lays a new sheet out as the take was. */
export const POST = endpoint(async ({ db }, context) =>
  Response.json(await weaveOfTake(db, pathId(context), await readBody(context, weaveOfTakeSchema)), {
    status: 201,
  }),
);
