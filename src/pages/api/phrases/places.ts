import { exchange, placesOf } from '../../../server/library/phrases/places.ts';
import { exchangeSchema, phraseIdsSchema } from '../../../requests/phrases.ts';
import { endpoint, readBody } from '../_answer.ts';

/** The baskets and weaves that hold one of some phrases. */
export const POST = endpoint(async ({ db }, context) => {
  const { phraseIds } = await readBody(context, phraseIdsSchema);
  return { places: await placesOf(db, phraseIds) };
});

/** Puts a phrase in the place of another there. */
export const PUT = endpoint(async ({ db }, context) => {
  const request = await readBody(context, exchangeSchema);
  await exchange(db, request);
});
