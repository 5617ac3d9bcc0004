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
  type CodedFacet,
  type FacetName,
} from './catalog.ts';
import { understood } from './understood.ts';

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

/** What decides whether a phrase has a value of a facet that is chosen: by its code, or by its tags. */
interface Narrowing {
  facet: FacetName;
  allows: (at: number) => boolean;
}

/**
 * Finds phrases, and counts what they could be narrowed or widened to. A phrase that only one facet keeps out is counted under that
 * facet: chosen there, it would be found. Columns are gone through one after the other, since that is many times faster.
 */
export function find(catalog: Catalog, filter: PhraseFilter): Found {
  codeThirds(catalog);
  const tests = testsOf(catalog, filter);
  const narrowings = narrowingsOf(catalog, filter);
  const wanted = stateCode(filter.aside ? 'discarded' : 'kept');
  const discarded = stateCode('discarded');
  const places = new Int32Array(catalog.size);
  const near = new Map<FacetName, number[]>(narrowings.map(({ facet }) => [facet, []]));
  let [total, aside] = [0, 0];
  for (let at = 0; at < catalog.size; at++) {
    const state = catalog.states[at]!;
    if (state === discarded) aside++;
    if (state !== wanted || !passes(tests, at)) continue;
    const failing = narrowings.length > 0 ? failingFacet(narrowings, at) : null;
    if (failing === null) places[total++] = at;
    else if (failing !== 'several') near.get(failing)!.push(at);
  }
  const found = places.slice(0, total);
  const counts = Object.fromEntries(
    FACETS.map((name) => {
      const count = new Uint32Array(catalog.dictionaries[name].words.length);
      for (const list of [found, near.get(name) ?? []])
        if (name === 'tags') countTags(catalog, list, count);
        else countCodes(catalog.coded[name], list, count);
      return [name, count];
    }),
  ) as Record<FacetName, Uint32Array>;
  return {
    places: found,
    counts: { total, facets: valuesOf(catalog, counts), aside, tagsUnder: tagsUnder(catalog) },
  };
}

function passes(tests: readonly ((at: number) => boolean)[], at: number): boolean {
  for (let k = 0; k < tests.length; k++) if (!tests[k]!(at)) return false;
  return true;
}

/** The facet that alone keeps a phrase out; null where none does. */
function failingFacet(narrowings: readonly Narrowing[], at: number): FacetName | 'several' | null {
  let failing: FacetName | null = null;
  for (const { facet, allows } of narrowings) {
    if (allows(at)) continue;
    if (failing !== null) return 'several';
    failing = facet;
  }
  return failing;
}

function countCodes(column: Uint32Array, places: ArrayLike<number>, counts: Uint32Array): void {
  for (let k = 0; k < places.length; k++) counts[column[places[k]!]!]!++;
}

/** Counts tags, and those they stand under, each once a phrase. */
function countTags(catalog: Catalog, places: ArrayLike<number>, counts: Uint32Array): void {
  const lines = catalog.dictionaries.tags.words.map((_, code) => tagLine(catalog, code));
  const isFlat = lines.every((line) => line.length <= 1);
  for (let k = 0; k < places.length; k++) {
    const own = catalog.tags[places[k]!]!;
    if (isFlat) for (let i = 0; i < own.length; i++) counts[own[i]!]!++;
    else for (const code of new Set(own.flatMap((tag) => lines[tag]!))) counts[code]!++;
  }
}

/** Everything of a filter but its facets. */
function testsOf(catalog: Catalog, filter: PhraseFilter): ((at: number) => boolean)[] {
  const { marks, words } = understood(filter.text ?? '');
  const tests: ((at: number) => boolean)[] = [];
  const lines = (matches: (line: string) => boolean) => {
    const { words: known } = catalog.dictionaries.numerals;
    const allowed = Uint8Array.from(known, (line) => Number(matches(line)));
    tests.push((at) => allowed[catalog.coded.numerals[at]!] === 1);
  };
  const codes = (facet: CodedFacet, values: ReadonlySet<string>) => {
    const allowed = allowedCodes(catalog, facet, values);
    tests.push((at) => allowed[catalog.coded[facet][at]!] === 1);
  };
  for (const { mark } of marks) {
    if (mark.kind === 'key') codes('keys', keyValues([keyWord(mark.key)], filter.relatives));
    else if (mark.kind === 'tempo') {
      const { from, to } = mark;
      tests.push((at) => catalog.bpm[at]! >= from && catalog.bpm[at]! <= to);
    } else if (mark.kind === 'meter') codes('meters', new Set([mark.meter]));
    else if (mark.kind === 'bars') codes('bars', new Set([String(mark.bars)]));
    else if (mark.kind === 'swing') codes('feels', new Set(FEELS.slice(1)));
    else lines((line) => line.includes(` ${mark.numerals} `));
  }
  const { starts, ends, changes } = filter;
  if (starts) lines((line) => line.startsWith(` ${starts} `));
  if (ends) lines((line) => line.endsWith(` ${ends} `));
  if (changes) lines((line) => line.includes(` ${changes} `));
  for (const word of words) {
    const holds = holdingWord(catalog, word);
    tests.push((at) => holds[at] === 1);
  }
  return tests;
}

/** Words that were looked for last, of each catalog as it then was. */
const lookedFor = new WeakMap<Catalog, { version: number; words: Map<string, Uint8Array> }>();

/** So many words are remembered. */
const REMEMBERED = 24;

/** Which phrases hold a word, 1 or 0. One that goes on from a word before is looked for only where that was: somebody is typing. */
function holdingWord(catalog: Catalog, word: string): Uint8Array {
  let known = lookedFor.get(catalog);
  if (known?.version !== catalog.version)
    lookedFor.set(catalog, (known = { version: catalog.version, words: new Map() }));
  const { words } = known;
  const same = words.get(word);
  if (same) return same;
  const before = [...words.keys()].filter((one) => word.includes(one)).sort((a, b) => b.length - a.length)[0];
  const within = before === undefined ? null : words.get(before)!;
  const holds = new Uint8Array(catalog.size);
  for (let at = 0; at < catalog.size; at++)
    if ((within === null || within[at] === 1) && catalog.texts[at]!.includes(word)) holds[at] = 1;
  words.set(word, holds);
  if (words.size > REMEMBERED) words.delete(words.keys().next().value!);
  return holds;
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
      const allowed = catalog.dictionaries.tags.words.map((_, code) =>
        tagLine(catalog, code).some((up) => wanted.has(up)),
      );
      return [{ facet, allows: (at) => catalog.tags[at]!.some((code) => allowed[code]) }];
    }
    const named = facet === 'keys' ? keyValues(values, relatives) : new Set(values);
    const allowed = allowedCodes(catalog, facet, named);
    const column = catalog.coded[facet];
    return [{ facet, allows: (at) => allowed[column[at]!] === 1 }];
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
