import { relativeKey, MODES, type Key, type Mode } from '../music/key.ts';
import type { Role } from '../split/roles.ts';
import {
  CODED_FACETS,
  codeThirds,
  FACETS,
  FEELS,
  placesByName,
  stateCode,
  tagLine,
  type Catalog,
  type CodedFacet,
  type FacetName,
} from './catalog.ts';
import { FEATURES, featureAt } from './features.ts';
import {
  bestHarmony,
  fitFrom,
  fitOf,
  fitScores,
  prepareFit,
  type Fit,
  type FitContext,
  type Fitted,
  type PreparedFit,
} from './fit.ts';
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

/** Finds phrases, and counts what they could be narrowed or widened to, in one pass. */
export function find(catalog: Catalog, filter: PhraseFilter): Found {
  codeThirds(catalog);
  const fits = testOf(catalog, filter);
  const narrowings = narrowingsOf(catalog, filter);
  const wanted = stateCode(filter.aside ? 'discarded' : 'kept');
  const discarded = stateCode('discarded');
  const counts = Object.fromEntries(
    FACETS.map((name) => [name, new Uint32Array(catalog.dictionaries[name].words.length)]),
  ) as Record<FacetName, Uint32Array>;
  const columns = CODED_FACETS.map((name) => ({ name, column: catalog.coded[name], count: counts[name] }));
  const countTags = tagCounter(catalog, counts.tags);
  const places = new Int32Array(catalog.size);
  let [total, aside] = [0, 0];
  for (let at = 0; at < catalog.size; at++) {
    const state = catalog.states[at]!;
    if (state === discarded) aside++;
    if (state !== wanted || !fits(at)) continue;
    let failing: FacetName | null = null;
    let failed = 0;
    for (const { facet, allows } of narrowings)
      if (!allows(at)) {
        failing = facet;
        if (++failed > 1) break;
      }
    if (failed > 1) continue;
    if (failing === 'tags') countTags(at);
    else if (failing) counts[failing][catalog.coded[failing][at]!]!++;
    else {
      places[total++] = at;
      for (const { column, count } of columns) count[column[at]!]!++;
      countTags(at);
    }
  }
  return {
    places: places.slice(0, total),
    counts: { total, facets: valuesOf(catalog, counts), aside, tagsUnder: tagsUnder(catalog) },
  };
}

/** Everything of a filter but its facets, as one test. */
function testOf(catalog: Catalog, filter: PhraseFilter): (at: number) => boolean {
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
    if (mark.kind === 'key') codes('keys', keyValues([keyValue(mark.key)], filter.relatives));
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
  for (const word of words) tests.push((at) => catalog.texts[at]!.includes(word));
  return (at) => tests.every((test) => test(at));
}

function keyValue({ tonic, mode }: Key): string {
  return `${tonic} ${mode}`;
}

/** Keys as facet values, with all that have the same notes where relatives are joined. */
function keyValues(values: readonly string[], relatives: boolean | undefined): Set<string> {
  const all = values.flatMap((value) => {
    const [tonic, mode] = value.split(' ');
    const key = { tonic: Number(tonic), mode: mode as Mode };
    if (!relatives || !MODES.includes(key.mode)) return [value];
    return MODES.map((other) => keyValue(relativeKey(key, other)));
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

/** Counts the tags of a phrase, and those they stand under, each once. */
function tagCounter(catalog: Catalog, counts: Uint32Array): (at: number) => void {
  const lines = catalog.dictionaries.tags.words.map((_, code) => tagLine(catalog, code));
  const isFlat = lines.every((line) => line.length <= 1);
  return (at) => {
    const own = catalog.tags[at]!;
    if (isFlat) for (const code of own) counts[code]!++;
    else for (const code of new Set(own.flatMap((tag) => lines[tag]!))) counts[code]!++;
  };
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

/** Harmony of each phrase under one project, found once and kept while neither changes. */
export interface FitMemory {
  key: string;
  version: number;
  harmony: Float32Array;
}

/** What phrases are to suit, with what is known of it already. */
export interface Suiting {
  prepared: PreparedFit;
  memory: FitMemory;
}

/** A context made ready for a catalog; what was found for it before is used again. */
export function suiting(catalog: Catalog, context: FitContext, before: FitMemory | null): Suiting {
  const key = JSON.stringify([context.key ?? null, context.chart ?? null]);
  const isSame =
    before !== null &&
    before.key === key &&
    before.version === catalog.version &&
    before.harmony.length >= catalog.size;
  const memory = isSame
    ? before
    : { key, version: catalog.version, harmony: new Float32Array(catalog.size).fill(NaN) };
  return { prepared: prepareFit(context), memory };
}

/** A phrase of the catalog as it is compared with what is asked for. */
export function fittedAt(catalog: Catalog, at: number): Fitted {
  const word = (facet: CodedFacet) => catalog.dictionaries[facet].words[catalog.coded[facet][at]!]!;
  const base = at * FEATURES.length;
  const [tonic, mode] = word('keys').split(' ');
  return {
    role: word('roles') as Role,
    key: mode ? { tonic: Number(tonic), mode: mode as Mode } : null,
    bpm: catalog.bpm[at]!,
    meter: word('meters'),
    bars: Number(word('bars')),
    swing: known(catalog.features[base + SWING]!, -1),
    low: known(catalog.features[base + LOW]!, 0),
    high: known(catalog.features[base + HIGH]!, 127),
    places: catalog.features.subarray(base + PLACE, base + PLACE + 8),
    profile: catalog.profiles[at]!,
  };
}

const [SWING, LOW, HIGH, PLACE] = [
  featureAt('swing'),
  featureAt('low'),
  featureAt('high'),
  featureAt('place0'),
];

function known(value: number, otherwise: number): number {
  return Number.isNaN(value) ? otherwise : value;
}

function fitAt(catalog: Catalog, at: number, { prepared, memory }: Suiting): number {
  const phrase = fittedAt(catalog, at);
  let harmony = memory.harmony[at]!;
  // Below 0 it has none: NaN says that nobody has looked.
  if (Number.isNaN(harmony)) harmony = memory.harmony[at] = bestHarmony(phrase, prepared)?.score ?? -1;
  return fitFrom(fitScores(phrase, prepared, harmony < 0 ? null : harmony), phrase.role);
}

/** The fit of a phrase with its reasons. */
export function fitWithReasons(catalog: Catalog, at: number, { prepared }: Suiting): Fit | null {
  return fitOf(fittedAt(catalog, at), prepared);
}

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
  const order = placesByName(catalog);
  const isFound = new Uint8Array(catalog.size);
  for (const at of found) isFound[at] = 1;
  const byName = order.filter((at) => isFound[at] === 1);
  const value = valueOf(catalog, sort, around);
  if (!value) return byName;
  // Numbers sort natively many times faster than by a function: the value, then the rank by name, in one number.
  const keys = Float64Array.from(
    byName,
    (at, rank) => Math.min(MOST, Math.max(0, Math.round(value(at)))) * RANKS + rank,
  );
  keys.sort();
  return Int32Array.from(keys, (key) => byName[key % RANKS]!);
}

/** What an order goes by, the smallest first, 0..2^32; null for names. */
function valueOf(
  catalog: Catalog,
  sort: PhraseSort,
  { bpm, suiting: asked }: { bpm?: number | undefined; suiting?: Suiting | undefined },
): ((at: number) => number) | null {
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
    case 'fit':
      return asked ? (at) => Math.round(100 * (100 - fitAt(catalog, at, asked))) : null;
  }
}
