import { semitonesInto, keyInProject, movedInWords } from '../reuse/in-project.ts';
import { MODE_STEPS, type Key } from '../music/key.ts';
import { pitchClass } from '../music/pitch.ts';
import { spellPitchClass } from '../music/spelling.ts';
import { UNPITCHED, type Role } from '../split/roles.ts';
import type { ChartChord } from '../music/chart.ts';
import { PROFILE_PARTS } from './profile.ts';

/** What phrases are to suit. What is left out is not asked for, and has no part in the mean. */
export interface FitContext {
  key?: Key | null;
  bpm?: number | undefined;
  /** "4/4". */
  meter?: string | undefined;
  /** Bars of chords. */
  chart?: readonly ChartChord[][] | undefined;
  /** Long share of a pair of eighths. */
  swing?: number | undefined;
  /** What plays already. */
  pinned?: readonly Occupied[] | undefined;
}

/** Where a part plays: pitches from the lowest to the highest, and the share of its strokes in each place of the bar. */
export interface Occupied {
  role: Role;
  low: number;
  high: number;
  places: ArrayLike<number>;
}

/** What is compared of a phrase. */
export interface Fitted extends Occupied {
  /** As it is heard. */
  key: Key | null;
  bpm: number;
  meter: string;
  bars: number;
  /** -1 where nothing tells. */
  swing: number;
  /** `harmonyProfile`. */
  profile: Uint8Array;
}

export const FIT_PARTS = ['tempo', 'meter', 'harmony', 'feel', 'room', 'length'] as const;
export type FitPart = (typeof FIT_PARTS)[number];

export interface FitReason {
  part: FitPart;
  /** 0..1. */
  score: number;
  /** Of 100, as it counts here. */
  weight: number;
  text: string;
}

export interface Fit {
  /** 0..100. */
  fit: number;
  reasons: FitReason[];
  /** Semitones it is moved by in the project. */
  transpose: number;
}

/** Weights of the parts, pitched and not: drums have no harmony, and all the more tempo and feel. */
const PITCHED: Record<FitPart, number> = {
  tempo: 25,
  meter: 20,
  harmony: 25,
  feel: 10,
  room: 10,
  length: 10,
};
const DRUMS: Record<FitPart, number> = {
  tempo: 37.5,
  meter: 20,
  harmony: 0,
  feel: 22.5,
  room: 10,
  length: 10,
};

/** In another meter nothing fits better than this: its bars fall on other beats. */
const OTHER_METER = 60;

/** How far a tempo may be off, and what that is worth. */
const TEMPO_STEPS = [
  [0.04, 1],
  [0.08, 0.9],
  [0.15, 0.7],
  [0.3, 0.3],
] as const;
const FAR_OFF = 0.05;

/** In half or double time it is worth so much of what it would be. */
const OTHER_TIME = 0.85;

/** Swing within this is the same; from there to `APART` it falls off (shares of a pair of eighths). */
const SAME_SWING = 0.02;
const APART = 0.08;

const AKIN: Record<string, string> = { '3/4': '6/8', '6/8': '12/8' };

/** A context with what is worked out once for all phrases. */
export interface PreparedFit {
  context: FitContext;
  /** Of each half of a bar of the chart, the pitch classes that fit, as bits; where only a key is said, one for all. */
  masks: Uint16Array | null;
  /** Of each half of a bar of the chart, the chord notes alone. */
  chords: Uint16Array | null;
  chartBars: number;
}

export function prepareFit(context: FitContext): PreparedFit {
  const { chart, key } = context;
  if (chart && chart.length > 0) {
    const beats = Math.max(...chart.flat().map(({ beat, beats: long }) => beat + long), 1);
    const masksIn = (of: Key | null) =>
      Uint16Array.from(
        chart.flatMap((bar) =>
          Array.from({ length: PROFILE_PARTS }, (_, half) => {
            const [from, to] = [(half * beats) / PROFILE_PARTS, ((half + 1) * beats) / PROFILE_PARTS];
            const sounding = bar.filter(({ beat, beats: long }) => beat < to && beat + long > from);
            if (sounding.length === 0) return ALL;
            return sounding.reduce((mask, chord) => mask | chordMask(chord, of), 0);
          }),
        ),
      );
    return { context, masks: masksIn(key ?? null), chords: masksIn(null), chartBars: chart.length };
  }
  return { context, masks: key ? Uint16Array.of(scaleMask(key)) : null, chords: null, chartBars: 0 };
}

const ALL = 0xfff;

function scaleMask(key: Key): number {
  return maskOf(MODE_STEPS[key.mode].map((step) => step + key.tonic));
}

function maskOf(pitches: readonly number[]): number {
  return pitches.reduce((mask, pitch) => mask | (1 << pitchClass(pitch)), 0);
}

/** Chord notes and those of its scale: the key's, but for what a chord note outside it takes the place of (common practice). */
function chordMask({ tones, bass }: Pick<ChartChord, 'tones' | 'bass'>, key: Key | null): number {
  const chord = maskOf([...tones, bass]);
  if (!key) return chord;
  const scale = scaleMask(key);
  const foreign = [...tones, bass].filter((tone) => !(scale & (1 << pitchClass(tone))));
  const displaced = maskOf(foreign.flatMap((tone) => [tone - 1, tone + 1]));
  return chord | (scale & ~displaced);
}

/** How much of a profile falls on pitch classes that fit, with the phrase from one bar of the chart on. */
function harmonyFrom(profile: Uint8Array, tonic: number, masks: Uint16Array, from: number): number {
  let [fits, all] = [0, 0];
  for (let at = 0; at * 12 < profile.length; at++) {
    const mask = masks[(from * PROFILE_PARTS + at) % masks.length]!;
    for (let degree = 0; degree < 12; degree++) {
      const weight = profile[12 * at + degree]!;
      if (weight === 0) continue;
      all += weight;
      if (mask & (1 << ((degree + tonic) % 12))) fits += weight;
    }
  }
  return all > 0 ? fits / all : 1;
}

/** The best share over all bar offsets that keep the phrase whole, of equals the one with most chord notes; and the offset. */
export function bestHarmony(
  phrase: Pick<Fitted, 'profile' | 'key' | 'bars'>,
  { masks, chords, chartBars, context }: PreparedFit,
): { score: number; from: number } | null {
  if (!masks || phrase.profile.length === 0) return null;
  const tonic =
    phrase.key && context.key ? keyInProject(phrase.key, context.key).tonic : (phrase.key?.tonic ?? 0);
  const last = Math.max(0, chartBars - phrase.bars);
  const onChords = (from: number) =>
    chords && last > 0 ? harmonyFrom(phrase.profile, tonic, chords, from) : 0;
  let best = { score: -1, from: 0, onChords: 0 };
  for (let from = 0; from <= last; from++) {
    const score = harmonyFrom(phrase.profile, tonic, masks, from);
    if (score < best.score - 1e-9) continue;
    const share = onChords(from);
    if (score > best.score + 1e-9 || share > best.onChords + 1e-9) best = { score, from, onChords: share };
  }
  return best;
}

/** The score of each part, -1 where it is not asked for. */
function fitScores(
  phrase: Fitted,
  { context, chartBars }: PreparedFit,
  harmony: number | null,
): Record<FitPart, number> {
  return {
    tempo: context.bpm === undefined ? -1 : tempoFit(phrase.bpm, context.bpm).score,
    meter: context.meter === undefined ? -1 : meterFit(phrase.meter, context.meter),
    harmony: harmony ?? -1,
    feel: context.swing === undefined ? -1 : feelFit(phrase.swing, context.swing),
    room: context.pinned === undefined || context.pinned.length === 0 ? -1 : roomFit(phrase, context.pinned),
    length: chartBars === 0 ? -1 : lengthFit(phrase.bars, chartBars),
  };
}

/** The weighted mean of what is asked for, 0..100; -1 where nothing is. */
export function fitFrom(scores: Record<FitPart, number>, role: Role): number {
  const weights = UNPITCHED.has(role) ? DRUMS : PITCHED;
  let [sum, all] = [0, 0];
  for (const part of FIT_PARTS) {
    const score = scores[part];
    if (score < 0) continue;
    sum += score * weights[part];
    all += weights[part];
  }
  if (all === 0) return -1;
  const mean = (100 * sum) / all;
  return scores.meter === 0 ? Math.min(OTHER_METER, mean) : mean;
}

/** How well a phrase suits what is asked for, with the reasons in words; null where nothing is asked for. */
export function fitOf(phrase: Fitted, prepared: PreparedFit): Fit | null {
  const { context } = prepared;
  const harmony = bestHarmony(phrase, prepared);
  const scores = fitScores(phrase, prepared, harmony?.score ?? null);
  const fit = fitFrom(scores, phrase.role);
  if (fit < 0) return null;
  const weights = UNPITCHED.has(phrase.role) ? DRUMS : PITCHED;
  const words: Record<FitPart, () => string> = {
    tempo: () => tempoWords(phrase.bpm, context.bpm!),
    meter: () => meterWords(phrase.meter, context.meter!),
    harmony: () => harmonyWords(phrase, prepared, harmony!.from),
    feel: () => feelWords(phrase.swing, context.swing!),
    room: () => roomWords(phrase, context.pinned!),
    length: () =>
      scores.length === 1
        ? `${phrase.bars} bars divide the ${prepared.chartBars} of the chart`
        : `${phrase.bars} bars do not divide the ${prepared.chartBars} of the chart`,
  };
  const reasons = FIT_PARTS.filter((part) => scores[part] >= 0 && weights[part] > 0).map((part) => ({
    part,
    score: Math.round(scores[part] * 1000) / 1000,
    weight: weights[part],
    text: words[part](),
  }));
  const transpose =
    phrase.key && context.key && !UNPITCHED.has(phrase.role) ? semitonesInto(phrase.key, context.key) : 0;
  return { fit: Math.round(fit), reasons, transpose };
}

/** The best of as it is, half time and double time: by which factor its tempo is taken, and what that is worth. */
export function tempoFit(own: number, project: number): { score: number; factor: 1 | 2 | 0.5 } {
  const ratio = project / own;
  const [as, half, double] = [worth(ratio), OTHER_TIME * worth(2 * ratio), OTHER_TIME * worth(0.5 * ratio)];
  if (as >= half && as >= double) return { score: as, factor: 1 };
  // Played in half time a phrase of twice the tempo keeps its own speed.
  return half >= double ? { score: half, factor: 2 } : { score: double, factor: 0.5 };
}

function worth(ratio: number): number {
  const off = Math.abs(ratio - 1);
  for (const [most, score] of TEMPO_STEPS) if (off <= most + 1e-9) return score;
  return FAR_OFF;
}

/** How well bars of one meter go with those of another. */
export function meterFit(own: string, project: string): number {
  if (own === project) return 1;
  return AKIN[own] === project || AKIN[project] === own ? 0.5 : 0;
}

/** How near two swings are; a phrase of which nothing tells is not far off. */
export function feelFit(own: number, project: number): number {
  if (own < 0) return 0.7;
  const apart = Math.abs(own - project);
  if (apart <= SAME_SWING) return 1;
  return apart >= APART ? 0.3 : 1 - (0.7 * (apart - SAME_SWING)) / (APART - SAME_SWING);
}

/** A length that divides the chart's comes out even. */
export function lengthFit(bars: number, chartBars: number): number {
  return chartBars % bars === 0 ? 1 : 0.5;
}

/** How much room the pinned parts leave: 1 for a role that nobody plays yet. */
export function roomFit(phrase: Occupied, pinned: readonly Occupied[]): number {
  if (!pinned.some(({ role }) => role === phrase.role)) return 1;
  // Shares are rounded: what overlaps whole leaves no room, and no less.
  return Math.max(
    0,
    Math.min(
      ...pinned.map((other) => 1 - 0.5 * pitchOverlap(phrase, other) - 0.5 * onsetOverlap(phrase, other)),
    ),
  );
}

/** The share of a part's range that another one has; drums' pieces are no pitches of anybody else. */
function pitchOverlap(a: Occupied, b: Occupied): number {
  if (UNPITCHED.has(a.role) !== UNPITCHED.has(b.role)) return 0;
  const common = Math.min(a.high, b.high) - Math.max(a.low, b.low) + 1;
  return Math.max(0, common) / (a.high - a.low + 1);
}

function onsetOverlap(a: Occupied, b: Occupied): number {
  let common = 0;
  for (let k = 0; k < a.places.length; k++) common += Math.min(a.places[k]!, b.places[k] ?? 0);
  return common;
}

function tempoWords(own: number, project: number): string {
  const { factor } = tempoFit(own, project);
  const tempos = `${bpm(own)} BPM for ${bpm(project)}`;
  if (factor === 1) return Math.abs(own / project - 1) < 0.001 ? `${bpm(own)} BPM, as the project` : tempos;
  return `${tempos}, ${factor === 2 ? 'half time' : 'double time'}`;
}

function bpm(value: number): number {
  return Math.round(value * 10) / 10;
}

function meterWords(own: string, project: string): string {
  const score = meterFit(own, project);
  if (score === 1) return `${own}, as the project`;
  return score > 0 ? `${own} for ${project}: akin` : `${own} for ${project}: its bars fall on other beats`;
}

function feelWords(own: number, project: number): string {
  if (own < 0) return 'nothing tells how it swings';
  const points = Math.round(100 * Math.abs(own - project));
  return points <= 2
    ? `swings as the project (${percent(own)})`
    : `swings ${percent(own)} for ${percent(project)}`;
}

function percent(share: number): string {
  return `${Math.round(100 * share)} %`;
}

function roomWords(phrase: Occupied, pinned: readonly Occupied[]): string {
  if (!pinned.some(({ role }) => role === phrase.role)) return 'nobody plays this role yet';
  return roomFit(phrase, pinned) > 0.6 ? 'room beside what is pinned' : 'plays where a pinned part plays';
}

/** So many pitches that do not fit are named. */
const NAMED = 3;

/** What falls outside, by the bar: "bars 2 and 4: F under B7". */
function harmonyWords(phrase: Fitted, { context, masks, chartBars }: PreparedFit, from: number): string {
  const key = phrase.key && context.key ? keyInProject(phrase.key, context.key) : phrase.key;
  const moved = phrase.key && context.key ? movedInWords(phrase.key, context.key) : undefined;
  const outside = new Map<string, { weight: number; bars: Set<number> }>();
  for (let at = 0; at * 12 < phrase.profile.length; at++) {
    const half = from * PROFILE_PARTS + at;
    const mask = masks![half % masks!.length]!;
    for (let degree = 0; degree < 12; degree++) {
      const weight = phrase.profile[12 * at + degree]!;
      const pc = pitchClass(degree + (key?.tonic ?? 0));
      if (weight === 0 || mask & (1 << pc)) continue;
      const under = chordAt(context.chart, half) ?? 'the key';
      const words = `${spellPitchClass(pc, context.key ?? key)} ${under === 'the key' ? 'outside' : 'under'} ${under}`;
      const found = outside.get(words) ?? { weight: 0, bars: new Set() };
      found.weight += weight;
      found.bars.add(1 + Math.floor(at / PROFILE_PARTS));
      outside.set(words, found);
    }
  }
  const worst = [...outside].sort((a, b) => b[1].weight - a[1].weight).slice(0, NAMED);
  const told = worst.map(([words, { bars }]) => `${barWords([...bars])}: ${words}`);
  const where = chartBars > 0 && from > 0 ? [`from bar ${from + 1} of the chart`] : [];
  const fits =
    told.length === 0 ? [chartBars > 0 ? 'every note fits its chord' : 'every note is in the key'] : told;
  return [...(moved ? [moved] : []), ...where, ...fits].join('; ');
}

function chordAt(chart: readonly ChartChord[][] | undefined, half: number): string | undefined {
  if (!chart || chart.length === 0) return undefined;
  const bar = chart[Math.floor(half / PROFILE_PARTS) % chart.length]!;
  const last = half % PROFILE_PARTS === 0 ? bar[0] : bar.at(-1);
  return last?.symbol;
}

function barWords(bars: readonly number[]): string {
  if (bars.length === 1) return `bar ${bars[0]}`;
  return `bars ${bars.slice(0, -1).join(', ')} and ${bars.at(-1)}`;
}
