import type { Role } from '../split/roles.ts';
import { keyOfWord, profileAt, type Catalog, type CodedFacet } from './catalog.ts';
import { FEATURES, featureAt } from './features.ts';
import {
  bestHarmony,
  fitFrom,
  fitOf,
  feelFit,
  lengthFit,
  meterFit,
  prepareFit,
  roomFit,
  tempoFit,
  type Fit,
  type FitContext,
  type Fitted,
  type PreparedFit,
} from './fit.ts';

/** Harmony of each phrase under one project: the dear part of a fit, found once and kept while neither changes. */
export interface FitMemory {
  /** Key and chart. */
  key: string;
  /** Below 0 a phrase has none. */
  harmony: Float32Array;
  /** The version of each phrase that it was found for. */
  versions: Uint32Array;
}

/** What phrases are to suit, with what is known of it already. */
export interface Suiting {
  prepared: PreparedFit;
  memory: FitMemory;
}

/** A context made ready for a catalog; what was found for it before is used again. */
export function suiting(catalog: Catalog, context: FitContext, before: FitMemory | null): Suiting {
  const key = JSON.stringify([context.key ?? null, context.chart ?? null]);
  const room = catalog.versions.length;
  const memory =
    before?.key === key ? before : { key, harmony: new Float32Array(room), versions: new Uint32Array(room) };
  if (memory.versions.length < catalog.size) {
    const { harmony, versions } = memory;
    memory.harmony = new Float32Array(room);
    memory.versions = new Uint32Array(room);
    memory.harmony.set(harmony);
    memory.versions.set(versions);
  }
  return { prepared: prepareFit(context), memory };
}

/** A phrase of the catalog as it is compared with what is asked for. */
export function fittedAt(catalog: Catalog, at: number): Fitted {
  const word = (facet: CodedFacet) => catalog.dictionaries[facet].words[catalog.coded[facet][at]!]!;
  const base = at * FEATURES.length;
  return {
    role: word('roles') as Role,
    key: keyOfWord(word('keys')),
    bpm: catalog.bpm[at]!,
    meter: word('meters'),
    bars: Number(word('bars')),
    swing: swingAt(catalog, at),
    low: known(catalog.features[base + LOW]!, 0),
    high: known(catalog.features[base + HIGH]!, 127),
    places: catalog.features.subarray(base + PLACE, base + PLACE + 8),
    profile: profileAt(catalog, at),
  };
}

const [SWING, LOW, HIGH, PLACE] = [
  featureAt('swing'),
  featureAt('low'),
  featureAt('high'),
  featureAt('place0'),
];

/** -1 where nothing tells. */
function swingAt(catalog: Catalog, at: number): number {
  return known(catalog.features[at * FEATURES.length + SWING]!, -1);
}

function known(value: number, otherwise: number): number {
  return Number.isNaN(value) ? otherwise : value;
}

/** The harmony of a phrase under what is asked for; below 0 where it has none. */
export function harmonyAt(catalog: Catalog, at: number, { prepared, memory }: Suiting): number {
  const version = catalog.versions[at]!;
  if (memory.versions[at] !== version) {
    memory.harmony[at] = bestHarmony(fittedAt(catalog, at), prepared)?.score ?? -1;
    memory.versions[at] = version;
  }
  return memory.harmony[at]!;
}

/** The fit of some phrases, 0..100 or -1, as `fitOf` finds it, without the words. */
export function fitColumn(catalog: Catalog, places: Int32Array, asked: Suiting): Float32Array {
  const { prepared } = asked;
  const { context, chartBars } = prepared;
  const byCode = <Value>(facet: CodedFacet, of: (word: string) => Value): Value[] =>
    catalog.dictionaries[facet].words.map(of);
  const meters = byCode('meters', (word) =>
    context.meter === undefined ? -1 : meterFit(word, context.meter),
  );
  const bars = byCode('bars', (word) => (chartBars === 0 ? -1 : lengthFit(Number(word), chartBars)));
  const roles = byCode('roles', (word) => word as Role);
  const pinned = context.pinned ?? [];
  const fits = new Float32Array(places.length);
  // One object for all: a new one for each costs more than what is worked out.
  const scores = { tempo: -1, meter: -1, harmony: -1, feel: -1, room: -1, length: -1 };
  for (let k = 0; k < places.length; k++) {
    const at = places[k]!;
    scores.tempo = context.bpm === undefined ? -1 : tempoFit(catalog.bpm[at]!, context.bpm).score;
    scores.meter = meters[catalog.coded.meters[at]!]!;
    scores.harmony = harmonyAt(catalog, at, asked);
    scores.feel = context.swing === undefined ? -1 : feelFit(swingAt(catalog, at), context.swing);
    scores.room = pinned.length === 0 ? -1 : roomFit(fittedAt(catalog, at), pinned);
    scores.length = bars[catalog.coded.bars[at]!]!;
    fits[k] = fitFrom(scores, roles[catalog.coded.roles[at]!]!);
  }
  return fits;
}

/** The fit of a phrase with its reasons. */
export function fitWithReasons(catalog: Catalog, at: number, { prepared }: Suiting): Fit | null {
  return fitOf(fittedAt(catalog, at), prepared);
}
