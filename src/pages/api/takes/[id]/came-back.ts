import { cameBackIn, keepCameBack } from '../../../../server/library/handoff/came-back.ts';
import { endpoint, pathId, readBody } from '../../_answer.ts';
import { cameBackSchema } from '../../../../requests/merge.ts';

/** Which parts of a take left as phrases once, and what was done to them since. */
export const GET = endpoint(async ({ db }, context) => ({ parts: await cameBackIn(db, pathId(context)) }));

/** Keeps a part as a child of the phrase that left. */
export const POST = endpoint(async ({ db }, context) =>
  Response.json(await keepCameBack(db, pathId(context), await readBody(context, cameBackSchema)), {
    status: 201,
  }),
);
