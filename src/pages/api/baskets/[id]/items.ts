import { addToBasket, setBasketItems } from '../../../../server/library/handoff/baskets.ts';
import { endpoint, pathId, readBody } from '../../_answer.ts';
import { basketItemsSchema } from '../../../../requests/baskets.ts';
import { phraseIdsSchema } from '../../../../requests/phrases.ts';

/** Puts phrases at the end. */
export const POST = endpoint(async ({ db }, context) => {
  const { phraseIds } = await readBody(context, phraseIdsSchema);
  return addToBasket(db, pathId(context), phraseIds);
});

/** Sets contents and order. */
export const PUT = endpoint(async ({ db }, context) => {
  const { phraseIds, was } = await readBody(context, basketItemsSchema);
  return setBasketItems(db, pathId(context), phraseIds, was);
});
