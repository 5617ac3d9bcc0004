import { workOn } from '../../../server/jobs/engine.ts';
import { MAKINGS } from '../../../server/jobs/making.ts';
import { createMaking, lastMaking } from '../../../server/library/phrases/makings.ts';
import { endpoint, readBody } from '../_answer.ts';
import { newMakingSchema } from '../../../requests/making.ts';

/** The drafts of many takes that were asked for last, and how far they are. */
export const GET = endpoint(async ({ db }) => ({ making: await lastMaking(db) }));

/** Begins to make drafts of all bars of every part of some takes. */
export const POST = endpoint(async (library, context) => {
  const { takeIds, projectId } = await readBody(context, newMakingSchema);
  const { id } = await createMaking(library.db, takeIds, projectId ?? null);
  void workOn(library, MAKINGS, id);
  return Response.json({ id }, { status: 201 });
});
