import { tagLine, type Catalog, type CodedFacet, type FacetName } from './catalog.ts';
import { waysOf } from './ways.ts';

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

/**
 * Counts the values of all facets among some places, into `counts`, by code. Tags, and those they stand under, are counted once a phrase:
 * by sets of tags, of which some are counted in `sets` already.
 */
export function countFacets(
  catalog: Catalog,
  places: Int32Array,
  sets: Uint32Array,
  counts: Readonly<Record<FacetName, Uint32Array>>,
): void {
  const groups = GROUPS.map((facets) => waysOf(catalog, facets));
  const ways = groups.map(({ codes, columns }) => new Uint32Array(codes.length / columns.length));
  const columns = [...groups.map(({ column }) => column), catalog.coded.tagSets];
  countCodes(places, columns as Five<Uint32Array>, [...ways, sets] as Five<Uint32Array>);
  groups.forEach(({ codes }, g) => {
    const facets = GROUPS[g]!;
    facets.forEach((facet, f) => {
      const own = counts[facet];
      ways[g]!.forEach((count, way) => (own[codes[way * facets.length + f]!]! += count));
    });
  });
  countTags(catalog, sets, counts.tags);
}

type Five<Item> = [Item, Item, Item, Item, Item];

/** Counts codes of five columns at once: one after the other, each count would wait until the one before it is written. */
function countCodes(
  places: Int32Array,
  [a, b, c, d, e]: Five<Uint32Array>,
  [countsA, countsB, countsC, countsD, countsE]: Five<Uint32Array>,
): void {
  for (let k = 0; k < places.length; k++) {
    const at = places[k]!;
    countsA[a[at]!]!++;
    countsB[b[at]!]!++;
    countsC[c[at]!]!++;
    countsD[d[at]!]!++;
    countsE[e[at]!]!++;
  }
}

function countTags(catalog: Catalog, sets: Uint32Array, counts: Uint32Array): void {
  const lines = catalog.dictionaries.tags.words.map((_, code) => tagLine(catalog, code));
  catalog.tagSets.forEach((codes, set) => {
    if (sets[set]! > 0)
      for (const code of new Set(codes.flatMap((tag) => lines[tag]!))) counts[code]! += sets[set]!;
  });
}
