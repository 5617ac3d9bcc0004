import { createComp, listComps } from '../../../server/library/takes/comps.ts';
import { endpoint, readBody } from '../_answer.ts';
import { newCompSchema } from '../../../requests/comp.ts';

export const GET = endpoint(async ({ db }) => ({ comps: await listComps(db) }));

/** Begins a comp of takes that play one chart. */
export const POST = endpoint(async ({ db }, context) =>
  Response.json(await createComp(db, await readBody(context, newCompSchema)), { status: 201 }),
);
