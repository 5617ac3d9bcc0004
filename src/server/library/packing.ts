/** Packs under way, by their baskets: how many of their previews are made. */
const underWay = new Map<string, { done: number; of: number }>();

/** Does some packing, and keeps how far it is to be asked for meanwhile. */
export async function packing<Packed>(
  basketId: string,
  work: (onPreview: (done: number, of: number) => void) => Promise<Packed>,
): Promise<Packed> {
  try {
    return await work((done, of) => underWay.set(basketId, { done, of }));
  } finally {
    underWay.delete(basketId);
  }
}

/** How far the pack of a basket is; null where none is under way. */
export function packingOf(basketId: string): { done: number; of: number } | null {
  return underWay.get(basketId) ?? null;
}
