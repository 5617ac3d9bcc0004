import { CHORD_QUALITIES, type ChordQuality } from '../music/chord-quality.ts';
import { chordSymbol, chordTones, type ChordName } from '../music/chord.ts';
import type { Chroma } from './chroma.ts';
import { logistic } from '../numbers.ts';

/** A chord found over some time. */
export interface ChordFinding {
  startTick: number;
  endTick: number;
  /** Where it begins, from 1. */
  bar: number;
  beat: number;
  /** Null where no chord sounds. */
  chord: ChordName | null;
  /** 0..1: how far it stands out from the runner-up. */
  certainty: number;
  /** Written by a person. */
  byHand?: boolean;
}

/** What the decoder weighs; all in natural logarithms. Compared in docs/accuracy.md. */
export interface ChordWeights {
  /** Share of what sounds that belongs to no chord. */
  stray: number;
  /** How much what sounds tells, and where it is full: a chord over a bass and a tune tells more than the two alone. */
  evidence: number;
  full: number;
  /** Price of a change of chord, on a beat and on the first of a bar. */
  change: number;
  changeAtBar: number;
  /** What a bass on the root is worth, and which share of it where the chord is seldom built on it. */
  bass: number;
  seldom: number;
  /** Price of a chord that is not a triad, a note. */
  richness: number;
  /** Price of a chord without a third: where one sounds at all, it is heard. */
  bare: number;
}

/**
 * Chosen on the first seed of charts that Debian's abc2midi sounds and on five real files whose bars were labeled by hand;
 * docs/accuracy.md has what they do on others.
 */
export const CHORD_WEIGHTS: ChordWeights = {
  stray: 0.1,
  evidence: 0.6,
  full: 2,
  change: 1.5,
  changeAtBar: 0.5,
  bass: 0.7,
  seldom: 0.5,
  richness: 0.04,
  bare: 0.6,
};

/** Chords that their root is seldom the lowest of: each is like another over a bass that is not its root. */
const SELDOM: ReadonlySet<string> = new Set(['6', 'm6', 'dim', 'm7b5', 'dim7', 'sus4', '7sus4']);

interface State {
  root: number;
  quality: ChordQuality;
  /** Logarithm of the chance of each pitch class under the chord. */
  chances: Float64Array;
  /** What a bass on its root is worth. */
  rootWorth: number;
}

function statesFor({ stray, bass, seldom }: ChordWeights): State[] {
  return CHORD_QUALITIES.flatMap((quality) =>
    Array.from({ length: 12 }, (_, root): State => {
      const tones = new Set(chordTones({ root, quality }));
      const chances = Float64Array.from({ length: 12 }, (_, pc) =>
        Math.log(tones.has(pc) ? (1 - stray) / tones.size : stray / (12 - tones.size)),
      );
      return { root, quality, chances, rootWorth: bass * (SELDOM.has(quality.symbol) ? seldom : 1) };
    }),
  );
}

/**
 * The chords of a take, beat by beat joined to stretches: a multinomial likelihood of pitch classes under each chord,
 * decoded by Viterbi with a price for change that is lower at bar lines. The bass is weak evidence for the root while
 * decoding and decides afterward among chords of the same notes (C6 and Am7, sus2 and sus4).
 */
export function findChords(chroma: Chroma, weights: ChordWeights = CHORD_WEIGHTS): ChordFinding[] {
  const states = statesFor(weights);
  const inBars = soundingInBars(chroma);
  const scores = chroma.weights.map((segment, at) =>
    segmentScores(segment, chroma.bass[at]!, inBars[chroma.segments[at]!.bar]!, states, weights),
  );
  const path = decode(scores, chroma, weights);
  return joined(chroma, path, scores, states);
}

/** What sounds in each bar, by its number. */
function soundingInBars({ segments, weights }: Chroma): Float64Array[] {
  const bars = Array.from({ length: (segments.at(-1)?.bar ?? 0) + 1 }, () => new Float64Array(12));
  segments.forEach(({ bar }, at) => weights[at]!.forEach((weight, pc) => (bars[bar]![pc]! += weight)));
  return bars;
}

/** 0..1: how much a third over a root sounds in its bar. Where none does, its fifth alone is all that is meant. */
function thirdsHeard(inBar: Float64Array, root: number): number {
  const third = Math.max(inBar[(root + 3) % 12]!, inBar[(root + 4) % 12]!);
  return third === 0 ? 0 : Math.min(1, third / (THIRD_SHARE * inBar[root]!));
}

/** A third that sounds so much against its root is heard. */
const THIRD_SHARE = 0.3;

/** How well each chord explains a segment; null where nothing sounds in it. */
function segmentScores(
  segment: Float64Array,
  bass: Float64Array,
  inBar: Float64Array,
  states: readonly State[],
  { evidence, richness, bare, full }: ChordWeights,
): Float64Array | null {
  const total = segment.reduce((sum, weight) => sum + weight, 0);
  if (total < 0.02) return null;
  // A full chord tells all there is; a single short note, or a bass under a tune, tells less.
  const factor = (evidence * Math.min(full, total)) / total;
  const lowest = bass.reduce((sum, weight) => sum + weight, 0);
  return Float64Array.from(states, ({ root, quality, chances, rootWorth }) => {
    let sum = 0;
    for (let pc = 0; pc < 12; pc++) if (segment[pc]! > 0) sum += segment[pc]! * chances[pc]!;
    const onRoot = lowest > 0 ? bass[root]! / lowest : 0;
    return (
      sum * factor +
      rootWorth * onRoot -
      richness * Math.max(0, quality.tones.length - 3) -
      (quality.tones.length < 3 ? bare * thirdsHeard(inBar, root) : 0)
    );
  });
}

/** The best chord of each segment; -1 where nothing sounds. */
function decode(
  scores: readonly (Float64Array | null)[],
  { segments }: Chroma,
  { change, changeAtBar }: ChordWeights,
): Int16Array {
  const size = scores.find((score) => score !== null)?.length ?? 0;
  const path = new Int16Array(scores.length).fill(-1);
  let total: Float64Array<ArrayBufferLike> = new Float64Array(size);
  const back: (Int16Array | null)[] = [];
  scores.forEach((score, at) => {
    if (!score) return back.push(null);
    const price = segments[at]!.beat === 1 ? changeAtBar : change;
    let best = 0;
    for (let s = 1; s < size; s++) if (total[s]! > total[best]!) best = s;
    const from = new Int16Array(size);
    const next = new Float64Array(size);
    for (let s = 0; s < size; s++) {
      const stays = total[s]! >= total[best]! - price;
      from[s] = stays ? s : best;
      next[s] = (stays ? total[s]! : total[best]! - price) + score[s]!;
    }
    total = next;
    return back.push(from);
  });
  let state = total.reduce((best, value, s) => (value > total[best]! ? s : best), 0);
  for (let at = scores.length - 1; at >= 0; at--) {
    const from = back[at];
    if (!from) continue;
    path[at] = state;
    state = from[state]!;
  }
  return path;
}

/** Neighboring segments of one chord in one; silence goes on with what sounded. */
function joined(
  { segments, bass }: Chroma,
  path: Int16Array,
  scores: readonly (Float64Array | null)[],
  states: readonly State[],
): ChordFinding[] {
  const found: ChordFinding[] = [];
  for (let from = 0; from < segments.length;) {
    let to = from + 1;
    while (to < segments.length && (path[to] === path[from] || (path[to] === -1 && path[from] !== -1))) to++;
    const state = states[path[from]!];
    const { startTick, bar, beat } = segments[from]!;
    found.push({
      startTick,
      endTick: segments[to - 1]!.endTick,
      bar,
      beat,
      chord: state ? named(state, bass.slice(from, to)) : null,
      certainty: state ? certaintyOf(scores.slice(from, to), path[from]!) : 0,
    });
    from = to;
  }
  return found;
}

/** The bass decides among chords of the same notes; one that is no root is the bass of an inversion. */
function named({ root, quality }: State, bass: readonly Float64Array[]): ChordName {
  const heard = new Float64Array(12);
  bass.forEach((segment, k) => segment.forEach((weight, pc) => (heard[pc]! += weight * (k === 0 ? 2 : 1))));
  const lowest = heard.reduce((best, weight, pc) => (weight > heard[best]! ? pc : best), 0);
  if (heard[lowest] === 0) return { root, quality, bass: root };
  const same = CHORD_QUALITIES.find(
    (other) => other.tones.length === quality.tones.length && sameNotes(lowest, other, root, quality),
  );
  if (same) return { root: lowest, quality: same, bass: lowest };
  // A note of the chord under it is an inversion; another is heard as passing where the root sounds in the bass too.
  const isTone = chordTones({ root, quality }).includes(lowest);
  return { root, quality, bass: isTone || heard[root]! < heard[lowest]! * 0.3 ? lowest : root };
}

function sameNotes(root: number, quality: ChordQuality, otherRoot: number, other: ChordQuality): boolean {
  const notes = new Set(chordTones({ root: otherRoot, quality: other }));
  return chordTones({ root, quality }).every((pc) => notes.has(pc));
}

/**
 * How often a chord that stands so far over the next best is right, fitted to eight families of charts; see
 * docs/accuracy.md, "How certain".
 */
const CALIBRATION = { rest: 0.59, lead: 8.7 };

/** The most that is ever said: real music is not as clear as charts. */
const MOST_CERTAIN = 0.97;

/** From how far the chord stands over the next best of another root or kind, by the root of the segments that tell of it. */
function certaintyOf(scores: readonly (Float64Array | null)[], state: number): number {
  const total = new Float64Array(scores.find((score) => score !== null)?.length ?? 0);
  let heard = 0;
  for (const score of scores) {
    if (!score) continue;
    heard++;
    score.forEach((value, s) => (total[s]! += value));
  }
  if (heard === 0) return 0;
  let other = -Infinity;
  total.forEach((value, s) => {
    if (s !== state) other = Math.max(other, value);
  });
  const lead = total[state]! - other;
  const certainty = logistic(CALIBRATION.rest + CALIBRATION.lead * (lead / Math.sqrt(heard)));
  return Math.round(100 * Math.min(MOST_CERTAIN, certainty)) / 100;
}

/** The chords that sound in each bar, what was held into it first. In order of time, as they are found. */
export function chordsByBar(chords: readonly ChordFinding[], bars: number): ChordFinding[][] {
  let held: ChordFinding | undefined;
  let at = 0;
  return Array.from({ length: bars }, (_, k) => {
    const sounding: ChordFinding[] = [];
    if (held && !(chords[at]?.bar === k + 1 && chords[at]?.beat === 1)) sounding.push(held);
    for (; at < chords.length && chords[at]!.bar <= k + 1; at++) sounding.push((held = chords[at]!));
    return sounding;
  });
}

/** The changes of each bar, with the beats they fall on. */
export function symbolsOfBars(chords: readonly ChordFinding[], bars: number): string[] {
  return chordsByBar(chords, bars).map((sounding, k) =>
    sounding
      .map(({ bar, beat, chord }) => {
        const symbol = chord ? chordSymbol(chord, null) : '-';
        return bar <= k || beat === 1 ? symbol : `${beat} ${symbol}`;
      })
      .join(' '),
  );
}
