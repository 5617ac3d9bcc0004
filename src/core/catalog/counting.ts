import { tagLine, type Catalog, type CodedFacet } from './catalog.ts';

/**
 * Facets whose values go together in few ways: instead of nineteen columns, four are counted, and each way's number is then given to the
 * values in it.
 */
const GROUPS: readonly (readonly CodedFacet[])[] = [
  ['roles', 'sounds', 'purposes', 'loops', 'pickups'],
  ['keys', 'meters', 'bars'],
  ['tempos', 'feels', 'densities', 'registers'],
  ['sources', 'projects', 'people', 'rights', 'used', 'heard', 'ratings'],
];

/** A column of ways in which the values of some facets go together. */
interface Ways {
  facets: readonly CodedFacet[];
  /** Which way each phrase has. */
  column: Uint32Array;
  /** The codes of each way, as many as there are facets. */
  codes: number[];
  /** By a way so far and the next facet's code, the way on. */
  next: Map<number, number>[];
  /** Of the catalog, and of its thirds. */
  version: number;
  thirds: number;
}

/** A code is smaller: no facet has so many values. */
const MOST_CODES = 2 ** 24;

const known = new WeakMap<Catalog, Ways[]>();

/** Counts the values of all facets of one value a phrase among some places. Into `counts`, by code. */
export function countFacets(
  catalog: Catalog,
  places: Int32Array,
  counts: Readonly<Record<CodedFacet, Uint32Array>>,
): void {
  for (const { facets, column, codes } of waysOf(catalog)) {
    const ways = new Uint32Array(codes.length / facets.length);
    for (let k = 0; k < places.length; k++) ways[column[places[k]!]!]!++;
    facets.forEach((facet, f) => {
      const own = counts[facet];
      for (let way = 0; way < ways.length; way++) own[codes[way * facets.length + f]!]! += ways[way]!;
    });
  }
}

/**
 * Counts tags, and those they stand under, each once a phrase: of some places, and of what is counted in `sets` already. Into `counts`, by code.
 */
export function countTags(
  catalog: Catalog,
  places: Int32Array,
  sets: Uint32Array,
  counts: Uint32Array,
): void {
  const column = catalog.coded.tagSets;
  for (let k = 0; k < places.length; k++) sets[column[places[k]!]!]!++;
  const lines = catalog.dictionaries.tags.words.map((_, code) => tagLine(catalog, code));
  catalog.tagSets.forEach((codes, set) => {
    if (sets[set]! > 0)
      for (const code of new Set(codes.flatMap((tag) => lines[tag]!))) counts[code]! += sets[set]!;
  });
}

function waysOf(catalog: Catalog): Ways[] {
  let all = known.get(catalog);
  if (!all) known.set(catalog, (all = GROUPS.map(noWays)));
  for (const ways of all) bringUpToDate(catalog, ways);
  return all;
}

const noWays = (facets: readonly CodedFacet[]): Ways => ({
  ...{ facets, column: new Uint32Array(0), codes: [], version: -1, thirds: -1 },
  next: facets.map(() => new Map()),
});

/** Finds the ways of phrases that have changed; of all, where thirds lie elsewhere now. */
function bringUpToDate(catalog: Catalog, ways: Ways): void {
  const { size, version, versions, thirds } = catalog;
  if (ways.version === version && ways.thirds === thirds.version) return;
  if (ways.column.length < size) {
    const longer = new Uint32Array(catalog.states.length);
    longer.set(ways.column);
    ways.column = longer;
  }
  const from = ways.thirds === thirds.version ? ways.version : -1;
  for (let at = 0; at < size; at++) if (versions[at]! > from) ways.column[at] = wayOf(catalog, ways, at);
  ways.version = version;
  ways.thirds = thirds.version;
}

function wayOf({ coded }: Catalog, { facets, codes, next }: Ways, at: number): number {
  let way = 0;
  for (let f = 0; f < facets.length; f++) {
    const key = way * MOST_CODES + coded[facets[f]!][at]!;
    const after = next[f]!;
    let on = after.get(key);
    if (on === undefined) {
      on = after.size;
      after.set(key, on);
      if (f === facets.length - 1) for (const facet of facets) codes.push(coded[facet][at]!);
    }
    way = on;
  }
  return way;
}
