import { createBasket, listBaskets } from '../../../server/library/handoff/baskets.ts';
import { endpoint, readBody } from '../_answer.ts';
import { newBasketSchema } from '../../../requests/baskets.ts';

export const GET = endpoint(async ({ db }) => ({ baskets: await listBaskets(db) }));

export const POST = endpoint(async ({ db }, context) => {
  const { name, projectId, recipientId } = await readBody(context, newBasketSchema);
  const made = await createBasket(db, name, projectId ?? null, recipientId ?? null);
  return Response.json(made, { status: 201 });
});
