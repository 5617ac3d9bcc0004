import { relativeKey, MODES } from '../music/key.ts';
import {
  codeThirds,
  FACETS,
  FEELS,
  keyOfWord,
  keyWord,
  stateCode,
  tagLine,
  type Catalog,
  type CatalogRow,
  type CodedFacet,
  type FacetName,
} from './catalog.ts';
import { countFacets } from './counting.ts';
import { understood } from './understood.ts';
import { holdingWord } from './words.ts';

/** What a list of phrases is narrowed to. Values of one facet widen, facets narrow. */
export interface PhraseFilter {
  text?: string | undefined;
  facets?: Partial<Record<FacetName, readonly string[]>> | undefined;
  /** A key finds its relatives too: what has the same notes. */
  relatives?: boolean | undefined;
  /** Numerals that the changes begin with, end with, or have one after the other ("V7 I"). */
  starts?: string | undefined;
  ends?: string | undefined;
  changes?: string | undefined;
  /** What was set aside, instead of what is kept. */
  aside?: boolean | undefined;
}

export const PHRASE_SORTS = ['name', 'fit', 'newest', 'tempo', 'most used', 'least used', 'rating'] as const;
export type PhraseSort = (typeof PHRASE_SORTS)[number];

export interface FacetValue {
  value: string;
  count: number;
}

/** How many there are in all, and of each value: what the list would hold if only that one were chosen of its facet. */
export interface FacetCounts {
  total: number;
  facets: Record<FacetName, FacetValue[]>;
  /** How many are set aside. */
  aside: number;
  /** The tag each tag stands under. */
  tagsUnder: Record<string, string>;
}

/** The phrases that a filter finds, by place, and the counts. */
export interface Found {
  places: Int32Array;
  counts: FacetCounts;
}

/** A facet of which values are chosen: its column, and which of its codes are allowed, 1 or 0. */
interface Narrowing {
  facet: FacetName;
  column: Uint32Array;
  allowed: Uint8Array;
}

/**
 * Finds phrases, and counts what they could be narrowed or widened to. A phrase that only one facet keeps out is counted under that
 * facet: chosen there, it would be found.
 */
export function find(catalog: Catalog, filter: PhraseFilter): Found {
  codeThirds(catalog);
  const passes = inState(catalog, filter.aside ? 'discarded' : 'kept').is.slice();
  keepAsked(catalog, filter, passes);
  const counts = Object.fromEntries(
    FACETS.map((name) => [name, new Uint32Array(catalog.dictionaries[name].words.length)]),
  ) as Record<FacetName, Uint32Array>;
  const nearTags = new Uint32Array(catalog.tagSets.length);
  const found = narrowed(passes, narrowingsOf(catalog, filter), (facet, code) => {
    if (facet === 'tags') nearTags[code]!++;
    else counts[facet][code]!++;
  });
  countFacets(catalog, found, nearTags, counts);
  return {
    places: found,
    counts: {
      total: found.length,
      facets: valuesOf(catalog, counts),
      aside: inState(catalog, 'discarded').count,
      tagsUnder: tagsUnder(catalog),
    },
  };
}

/** Places of those that pass and that no facet keeps out; tells of each that one alone keeps out, with its code there. */
function narrowed(
  passes: Uint8Array,
  narrowings: readonly Narrowing[],
  tell: (facet: FacetName, code: number) => void,
): Int32Array {
  const asked = placesOf(passes);
  if (narrowings.length === 0) return asked;
  const places = new Int32Array(asked.length);
  let total = 0;
  for (let k = 0; k < asked.length; k++) {
    const at = asked[k]!;
    let [out, by] = [0, 0];
    for (let n = 0; n < narrowings.length; n++) {
      const { allowed, column } = narrowings[n]!;
      if (allowed[column[at]!] !== 0) continue;
      out++;
      by = n;
    }
    if (out === 0) places[total++] = at;
    else if (out === 1) tell(narrowings[by]!.facet, narrowings[by]!.column[at]!);
  }
  return places.slice(0, total);
}

/** Where something is 1, and not 0. */
function placesOf(passes: Uint8Array): Int32Array {
  const places = new Int32Array(passes.length);
  let total = 0;
  // Without a branch: the place is written, and stays where the next one goes behind it.
  for (let at = 0; at < passes.length; at++) {
    places[total] = at;
    total += passes[at]!;
  }
  return places.slice(0, total);
}

/** Which phrases are in a state, 1 or 0, and how many. */
interface InState {
  is: Uint8Array;
  count: number;
  /** Of the catalog. */
  version: number;
}

const statesKnown = new WeakMap<Catalog, Map<number, InState>>();

function inState(catalog: Catalog, name: CatalogRow['state']): InState {
  let known = statesKnown.get(catalog);
  if (!known) statesKnown.set(catalog, (known = new Map()));
  const state = stateCode(name);
  const before = known.get(state);
  const { version, size, states } = catalog;
  if (before?.version === version) return before;
  const is = new Uint8Array(size);
  let count = 0;
  for (let at = 0; at < size; at++)
    if (states[at] === state) {
      is[at] = 1;
      count++;
    }
  const now = { is, count, version };
  known.set(state, now);
  return now;
}

/** Keeps what everything of a filter but its facets asks for. */
function keepAsked(catalog: Catalog, filter: PhraseFilter, passes: Uint8Array): void {
  const { marks, words } = understood(filter.text ?? '');
  const lines = (matches: (line: string) => boolean) => {
    const allowed = Uint8Array.from(catalog.dictionaries.numerals.words, (line) => Number(matches(line)));
    keepCodes(catalog.coded.numerals, allowed, passes);
  };
  const codes = (facet: CodedFacet, values: ReadonlySet<string>) =>
    keepCodes(catalog.coded[facet], allowedCodes(catalog, facet, values), passes);
  for (const { mark } of marks) {
    if (mark.kind === 'key') codes('keys', keyValues([keyWord(mark.key)], filter.relatives));
    else if (mark.kind === 'tempo') keepBetween(catalog.bpm, mark, passes);
    else if (mark.kind === 'meter') codes('meters', new Set([mark.meter]));
    else if (mark.kind === 'bars') codes('bars', new Set([String(mark.bars)]));
    else if (mark.kind === 'swing') codes('feels', new Set(FEELS.slice(1)));
    else lines((line) => line.includes(` ${mark.numerals} `));
  }
  const { starts, ends, changes } = filter;
  if (starts) lines((line) => line.startsWith(` ${starts} `));
  if (ends) lines((line) => line.endsWith(` ${ends} `));
  if (changes) lines((line) => line.includes(` ${changes} `));
  for (const word of words) {
    keepBoth(passes, holdingWord(catalog, word));
  }
}

/** Keeps what passes both, four at a time. */
function keepBoth(passes: Uint8Array, holds: Uint8Array): void {
  const fours = passes.length >>> 2;
  const [all, held] = [passes, holds].map(
    ({ buffer, byteOffset }) => new Uint32Array(buffer, byteOffset, fours),
  );
  for (let k = 0; k < fours; k++) all![k]! &= held![k]!;
  for (let at = 4 * fours; at < passes.length; at++) passes[at]! &= holds[at]!;
}

function keepCodes(column: Uint32Array, allowed: Uint8Array, passes: Uint8Array): void {
  for (let at = 0; at < passes.length; at++) passes[at]! &= allowed[column[at]!]!;
}

function keepBetween(
  column: Float32Array,
  { from, to }: { from: number; to: number },
  passes: Uint8Array,
): void {
  for (let at = 0; at < passes.length; at++) if (column[at]! < from || column[at]! > to) passes[at] = 0;
}

/** Keys as facet values, with all that have the same notes where relatives are joined. */
function keyValues(values: readonly string[], relatives: boolean | undefined): Set<string> {
  const all = values.flatMap((value) => {
    const key = relatives ? keyOfWord(value) : null;
    return key ? MODES.map((other) => keyWord(relativeKey(key, other))) : [value];
  });
  return new Set(all);
}

function allowedCodes(catalog: Catalog, facet: CodedFacet, values: ReadonlySet<string>): Uint8Array {
  return Uint8Array.from(catalog.dictionaries[facet].words, (word, code) =>
    Number(code > 0 && values.has(word)),
  );
}

function narrowingsOf(catalog: Catalog, { facets = {}, relatives }: PhraseFilter): Narrowing[] {
  return FACETS.flatMap((facet): Narrowing[] => {
    const values = facets[facet];
    if (!values || values.length === 0) return [];
    if (facet === 'tags') {
      const wanted = new Set(values.map((value) => catalog.dictionaries.tags.codes.get(value) ?? -1));
      const allowed = Uint8Array.from(catalog.tagSets, (codes) =>
        Number(codes.some((code) => tagLine(catalog, code).some((up) => wanted.has(up)))),
      );
      return [{ facet, column: catalog.coded.tagSets, allowed }];
    }
    const named = facet === 'keys' ? keyValues(values, relatives) : new Set(values);
    return [{ facet, column: catalog.coded[facet], allowed: allowedCodes(catalog, facet, named) }];
  });
}

function valuesOf(catalog: Catalog, counts: Record<FacetName, Uint32Array>): FacetCounts['facets'] {
  return Object.fromEntries(
    FACETS.map((name) => {
      const { words } = catalog.dictionaries[name];
      const values = words.flatMap((value, code) =>
        code > 0 && counts[name][code]! > 0 ? [{ value, count: counts[name][code]! }] : [],
      );
      return [name, values.sort((a, b) => (a.value < b.value ? -1 : 1))];
    }),
  ) as FacetCounts['facets'];
}

function tagsUnder(catalog: Catalog): Record<string, string> {
  const { words } = catalog.dictionaries.tags;
  return Object.fromEntries(
    words.flatMap((word, code) => {
      const parent = catalog.tagParents[code] ?? 0;
      return parent > 0 ? [[word, words[parent]!]] : [];
    }),
  );
}
