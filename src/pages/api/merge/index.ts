import { waitingPacks } from '../../../server/library/handoff/packs-in.ts';
import { endpoint } from '../_answer.ts';
import { packSent } from '../_pack-sent.ts';

/** Packs that came in and wait. */
export const GET = endpoint(async (library) => ({ packs: await waitingPacks(library) }));

/** Lays a pack down. */
export const POST = endpoint(async (library, context) =>
  Response.json(await packSent(library, context), { status: 201 }),
);
