import type { Catalog } from './catalog.ts';
import type { PhraseSort } from './find.ts';
import { fitColumn, type Suiting } from './fit-column.ts';
import { placesByName, placesByNumber } from './kept-order.ts';
import { stablyBy, wholeNumber } from './radix.ts';

/** Places that were found, in an order: by name where nothing else is asked for or can be told, and where the same is told of both. */
export function sorted(
  catalog: Catalog,
  found: Int32Array,
  sort: PhraseSort,
  { bpm, suiting }: { bpm?: number | undefined; suiting?: Suiting | undefined } = {},
): Int32Array {
  const own = ownNumber(catalog, sort);
  if (own && !(sort === 'tempo' && bpm !== undefined))
    return inOrder(catalog, found, placesByNumber(catalog, sort, own));
  const byName = inOrder(catalog, found, placesByName(catalog));
  if (sort === 'tempo') return ordered(byName, (at) => Math.abs(catalog.bpm[at]! - bpm!) * 100);
  if (sort !== 'fit' || !suiting) return byName;
  const fits = fitColumn(catalog, byName, suiting);
  return ordered(byName, (_, k) => 100 * (100 - fits[k]!));
}

/** Places by a number of each and of where it stands, the smallest first. */
function ordered(places: Int32Array, numberOf: (at: number, k: number) => number): Int32Array {
  const numbers = new Uint32Array(places.length);
  for (let k = 0; k < numbers.length; k++) numbers[k] = wholeNumber(numberOf(places[k]!, k));
  return stablyBy(numbers, places);
}

/** Places that were found, in an order of all. */
function inOrder({ size }: Catalog, found: Int32Array, order: Int32Array): Int32Array {
  if (found.length === order.length) return order;
  const isFound = new Uint8Array(size);
  for (let k = 0; k < found.length; k++) isFound[found[k]!] = 1;
  const places = new Int32Array(found.length);
  let count = 0;
  for (let k = 0; k < order.length; k++) if (isFound[order[k]!]) places[count++] = order[k]!;
  return places;
}

/** What an order goes by that each phrase tells of itself, the smallest first; null for others. */
function ownNumber(catalog: Catalog, sort: PhraseSort): ((at: number) => number) | null {
  switch (sort) {
    case 'newest':
      return (at) => 2 ** 32 - 1 - catalog.created[at]! / 1000;
    case 'tempo':
      return (at) => catalog.bpm[at]! * 100;
    case 'most used':
      return (at) => 0xffff - catalog.used[at]!;
    case 'least used':
      return (at) => catalog.used[at]!;
    case 'rating': {
      const { words } = catalog.dictionaries.ratings;
      // What nobody has rated stands between what is liked and what was passed over.
      const rank = words.map((word, code) => (code === 0 ? 6 : word === '0' ? 7 : 5 - Number(word)));
      return (at) => rank[catalog.coded.ratings[at]!]!;
    }
    case 'name':
    case 'fit':
      return null;
  }
}
