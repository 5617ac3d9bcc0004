import { addToBasket, setBasketRows } from '../../../../server/library/handoff/baskets.ts';
import { endpoint, pathId, readBody } from '../../_answer.ts';
import { basketRowsSchema } from '../../../../requests/baskets.ts';
import { phraseIdsSchema } from '../../../../requests/phrases.ts';

/** Puts phrases at the end. */
export const POST = endpoint(async ({ db }, context) => {
  const { phraseIds } = await readBody(context, phraseIdsSchema);
  return addToBasket(db, pathId(context), phraseIds);
});

/** Sets contents and order. */
export const PUT = endpoint(async ({ db }, context) => {
  const { rows, was } = await readBody(context, basketRowsSchema);
  return setBasketRows(db, pathId(context), rows, was);
});
