/**
 * Orders of all phrases of a catalog, kept from one question to the next: only what is new or has changed is sorted, and put among the
 * others.
 */
import { placesSince, type Catalog } from './catalog.ts';
import { stablyBy, wholeNumber } from './radix.ts';

/** Places of all phrases by name, equal names by place. */
export function placesByName(catalog: Catalog): Int32Array {
  const { unsorted, size } = catalog;
  if (unsorted.size === 0) return catalog.byName;
  catalog.byName = putAmong(catalog.byName, [...unsorted], size, (a, b) => byName(catalog, a, b));
  unsorted.clear();
  return catalog.byName;
}

/** An order by a number that each phrase tells of itself, and what the numbers were. */
interface KeptOrder {
  places: Int32Array;
  /** By place. */
  numbers: Uint32Array;
  /** Of the catalog. */
  version: number;
}

const known = new WeakMap<Catalog, Map<string, KeptOrder>>();

/** Places of all phrases by a number of each, equal ones by name; `title` says which order it is. */
export function placesByNumber(
  catalog: Catalog,
  title: string,
  numberOf: (at: number) => number,
): Int32Array {
  let orders = known.get(catalog);
  if (!orders) known.set(catalog, (orders = new Map()));
  const before = orders.get(title);
  const order = before ? followed(catalog, before, numberOf) : begun(catalog, numberOf);
  orders.set(title, order);
  return order.places;
}

function begun(catalog: Catalog, numberOf: (at: number) => number): KeptOrder {
  const { size, version } = catalog;
  const numbers = new Uint32Array(size);
  for (let at = 0; at < size; at++) numbers[at] = wholeNumber(numberOf(at));
  const byName = placesByName(catalog);
  const inTurn = Uint32Array.from(byName, (at) => numbers[at]!);
  return { numbers, places: stablyBy(inTurn, byName), version };
}

function followed(catalog: Catalog, before: KeptOrder, numberOf: (at: number) => number): KeptOrder {
  const { size, version } = catalog;
  if (before.version === version) return before;
  const fresh = placesSince(catalog, before.version);
  const numbers = new Uint32Array(size);
  numbers.set(before.numbers);
  for (const at of fresh) numbers[at] = wholeNumber(numberOf(at));
  const compare = (a: number, b: number) => numbers[a]! - numbers[b]! || byName(catalog, a, b);
  return { numbers, places: putAmong(before.places, fresh, size, compare), version };
}

function byName({ names }: Catalog, a: number, b: number): number {
  return names[a]! < names[b]! ? -1 : names[a]! > names[b]! ? 1 : a - b;
}

/** An order in which some places are put where they belong, whether they stood in it or not; of so many places in all. */
function putAmong(
  order: Int32Array,
  some: Iterable<number>,
  size: number,
  compare: (a: number, b: number) => number,
): Int32Array {
  const fresh = Int32Array.from(some).sort(compare);
  const isFresh = new Uint8Array(size);
  for (const place of fresh) isFresh[place] = 1;
  const after = new Int32Array(size);
  let [next, at] = [0, 0];
  for (let k = 0; k < order.length; k++) {
    const place = order[k]!;
    if (isFresh[place]) continue;
    while (next < fresh.length && compare(fresh[next]!, place) < 0) after[at++] = fresh[next++]!;
    after[at++] = place;
  }
  while (next < fresh.length) after[at++] = fresh[next++]!;
  return after;
}
