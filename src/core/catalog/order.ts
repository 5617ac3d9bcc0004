import { placesByName, type Catalog } from './catalog.ts';
import type { PhraseSort } from './find.ts';
import { fitColumn, type Suiting } from './fit-column.ts';

/** What is sorted by a number first is in the order of names where that is the same. */
const RANKS = 2 ** 20;
const MOST = 2 ** 32;

/** Places that were found, in an order: by name where nothing else is asked for or can be told. */
export function sorted(
  catalog: Catalog,
  found: Int32Array,
  sort: PhraseSort,
  around: { bpm?: number | undefined; suiting?: Suiting | undefined } = {},
): Int32Array {
  const byName = inOrder(catalog, found);
  const values = valuesFor(catalog, byName, sort, around);
  if (!values) return byName;
  // Numbers sort natively many times faster than by a function: the value, then the rank by name, in one number.
  const keys = new Float64Array(byName.length);
  for (let rank = 0; rank < keys.length; rank++)
    keys[rank] = Math.min(MOST, Math.max(0, Math.round(values(byName[rank]!, rank)))) * RANKS + rank;
  keys.sort();
  const places = new Int32Array(keys.length);
  for (let k = 0; k < keys.length; k++) places[k] = byName[keys[k]! % RANKS]!;
  return places;
}

/** Places that were found, by name. */
function inOrder(catalog: Catalog, found: Int32Array): Int32Array {
  const order = placesByName(catalog);
  if (found.length === order.length) return order;
  const isFound = new Uint8Array(catalog.size);
  for (let k = 0; k < found.length; k++) isFound[found[k]!] = 1;
  const places = new Int32Array(found.length);
  let count = 0;
  for (let k = 0; k < order.length; k++) if (isFound[order[k]!]) places[count++] = order[k]!;
  return places;
}

/** What an order goes by, the smallest first, 0..2^32, of a phrase and its place in the list; null for names. */
function valuesFor(
  catalog: Catalog,
  places: Int32Array,
  sort: PhraseSort,
  { bpm, suiting }: { bpm?: number | undefined; suiting?: Suiting | undefined },
): ((at: number, k: number) => number) | null {
  switch (sort) {
    case 'name':
      return null;
    case 'newest':
      return (at) => MOST - catalog.created[at]! / 1000;
    case 'tempo':
      return bpm === undefined
        ? (at) => catalog.bpm[at]! * 100
        : (at) => Math.abs(catalog.bpm[at]! - bpm) * 100;
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
    case 'fit': {
      if (!suiting) return null;
      const fits = fitColumn(catalog, places, suiting);
      return (_, k) => 100 * (100 - fits[k]!);
    }
  }
}
