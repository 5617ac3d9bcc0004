import { bisector, pairs } from 'd3-array';
import type { Retiming } from '../capture/retime.ts';
import type { Take } from '../capture/take.ts';
import { secondsToTicks } from '../music/timeline.ts';
import type { Split } from '../split/split.ts';
import { cosine, inOrder, logistic, mean, upperMedian } from '../numbers.ts';
import { onsetsOf, type Onset } from './onsets.ts';

/** Where the beats and bars of a take are, told by what is played alone. */
export interface BeatFinding {
  /** Seconds of each beat, ascending, from the first that is played to the last. */
  beats: number[];
  beatsPerBar: number;
  /** Which of the first beats is the first of a bar, from 0. */
  firstDownbeat: number;
  /** Of the middle beat. */
  bpm: number;
  /** 0..1: how far it stands out from the next best reading. */
  certainty: number;
}

/** What speaks for a reading, and how much. Compared in docs/accuracy.md. */
export interface BeatWeights {
  /** Strokes on the beats. */
  onBeat: number;
  /** Strokes halfway between beats. */
  between: number;
  /** Bass and kick on beats against halfway. */
  low: number;
  /** Strokes on simple parts of the beat. */
  grid: number;
  /** How far the tempo is from the usual, squared octaves. */
  tempo: number;
  /** How unevenly it goes. */
  uneven: number;
  /** What the first of the bar has over other beats. */
  bar: number;
  /** What chords that change on beats have over those that change halfway. */
  change: number;
  /** Snare on the second and fourth. */
  backbeat: number;
  /** Held notes that begin on beats. */
  held: number;
}

export const BEAT_WEIGHTS: BeatWeights = {
  onBeat: 1.36,
  between: 0.21,
  low: 0.71,
  grid: 2.73,
  tempo: 1.03,
  uneven: 0.22,
  bar: 1.19,
  change: 0.17,
  backbeat: 0.72,
  held: 0.38,
};

/** Beats a minute that are usual, in the middle (common practice). */
const USUAL_BPM = 108;

/** Frames a second in which beats are looked for. */
const RATE = 50;

/** Neighboring periods that are told apart. */
const BIN = 0.02;

/** A tempo may wander so far from the one it is looked for around. */
const REACH = 0.24;

/** Slowest and fastest beat, in seconds. */
const SLOWEST = 60 / 48;
const FASTEST = 60 / 215;

/** Price of a beat that comes earlier or later than the one before says, by frames squared, and of a tempo that changes, a bin. */
const JITTER = 0.06;
const CHANGE = 0.22;

/** Fewer strokes tell nothing. */
const FEWEST = 8;

/**
 * Beats by dynamic programming over time and period around each likely tempo (after Ellis, "Beat tracking by dynamic
 * programming", JNMR 2007), then octave, phase and bar chosen for the whole take by what is struck where: bass, kick
 * and changes of harmony on the first of the bar, snare between. Null where too little is played.
 */
export function findBeats(take: Take, split: Split, weights: BeatWeights = BEAT_WEIGHTS): BeatFinding | null {
  const readings = readingsOf(onsetsOf(take, split));
  return chosen(readings, weights);
}

/** A reading of the take, and what speaks for it. */
export interface Reading {
  beats: number[];
  beatsPerBar: number;
  firstDownbeat: number;
  signs: Record<keyof BeatWeights, number>;
}

export function chosen(readings: readonly Reading[], weights: BeatWeights): BeatFinding | null {
  const scored = readings
    .map((reading) => ({ reading, score: scoreOf(reading, weights) }))
    .sort((a, b) => b.score - a.score);
  const [best] = scored;
  if (!best) return null;
  const { beats, beatsPerBar, firstDownbeat } = best.reading;
  const other = scored.find(({ reading }) => differs(reading, best.reading));
  const lead = other ? best.score - other.score : 1;
  return {
    beats,
    beatsPerBar,
    firstDownbeat,
    bpm: bpmOfBeats(beats),
    certainty: logistic(10 * lead),
  };
}

export function scoreOf({ signs }: Reading, weights: BeatWeights): number {
  let sum = 0;
  for (const sign of Object.keys(signs) as (keyof BeatWeights)[]) sum += weights[sign] * signs[sign];
  return sum;
}

/** Whether two readings are of other beats, not only of other bars. */
function differs(one: Reading, other: Reading): boolean {
  const near = one.beats.filter((beat) => other.beats.some((second) => Math.abs(second - beat) < 0.05));
  return near.length < 0.8 * Math.max(one.beats.length, other.beats.length);
}

function bpmOfBeats(beats: readonly number[]): number {
  return 60 / upperMedian(pairs(beats, (beat, next) => next - beat));
}

/** All readings that are worth weighing. */
export function readingsOf(onsets: readonly Onset[]): Reading[] {
  if (onsets.length < FEWEST) return [];
  const start = onsets[0]!.seconds;
  const strength = envelope(onsets, start);
  const tracks = likelyPeriods(strength)
    .map((period) => trackBeats(strength, period).map((beat) => beat / RATE + start))
    .filter((beats) => beats.length >= 4)
    .map((beats) => settled(beats, onsets));
  const distinct: number[][] = [];
  for (const beats of tracks.flatMap((found) => [found, halfway(found)]))
    if (!distinct.some((known) => sameBeats(known, beats))) distinct.push(beats);
  return distinct.flatMap((beats) => barReadings(beats, onsets, [4, 3]));
}

function sameBeats(one: readonly number[], other: readonly number[]): boolean {
  return (
    Math.abs(one.length - other.length) <= 1 &&
    one.filter((beat) => other.some((second) => Math.abs(second - beat) < 0.03)).length >= 0.95 * one.length
  );
}

/** What three of four onsets weigh at the most; 1 where that is nothing. */
function usualWeight(onsets: readonly Onset[]): number {
  const place = Math.floor(onsets.length * 0.75);
  return inOrder(onsets.map(({ weight }) => weight), place) || 1; // prettier-ignore
}

/** How strongly is struck in each frame, the mean taken off. */
function envelope(onsets: readonly Onset[], start: number): Float64Array {
  const usual = usualWeight(onsets);
  const frames = Math.ceil((onsets.at(-1)!.seconds - start + 0.5) * RATE);
  const strength = new Float64Array(frames);
  for (const { seconds, weight } of onsets) {
    const at = (seconds - start) * RATE;
    const strong = Math.min(1.3, weight / usual);
    for (let frame = Math.max(0, Math.floor(at) - 3); frame < Math.min(frames, at + 4); frame++) {
      strength[frame] = Math.max(strength[frame]!, strong * Math.exp(-((frame - at) ** 2) / 2));
    }
  }
  return strength.map((value) => value - 0.3);
}

/** Periods in frames at which the strokes are like themselves, the usual tempo preferred; with doubles and halves. */
function likelyPeriods(strength: Float64Array): number[] {
  const [shortest, longest] = [Math.floor(FASTEST * RATE), Math.ceil(SLOWEST * RATE)];
  const likeness: number[] = [];
  for (let lag = 0; lag <= 2 * longest; lag++) {
    let sum = 0;
    for (let frame = lag; frame < strength.length; frame++) sum += strength[frame]! * strength[frame - lag]!;
    likeness.push(sum / Math.max(1, strength.length - lag));
  }
  const weighed = (lag: number) =>
    (likeness[lag]! + 0.5 * (likeness[2 * lag] ?? 0)) *
    Math.exp(-0.5 * (Math.log2((60 * RATE) / lag / USUAL_BPM) / 1.2) ** 2);
  const peaks: number[] = [];
  for (let lag = shortest; lag <= longest; lag++)
    if (weighed(lag) >= weighed(lag - 1) && weighed(lag) >= weighed(lag + 1)) peaks.push(lag);
  peaks.sort((a, b) => weighed(b) - weighed(a));
  const periods: number[] = [];
  for (const peak of peaks.slice(0, 3))
    for (const factor of [1, 2, 0.5, 1.5, 2 / 3]) {
      const period = peak * factor;
      if (period < shortest || period > longest) continue;
      if (periods.every((known) => Math.abs(Math.log(known / period)) > 0.09)) periods.push(period);
    }
  return periods;
}

/** Frames of the beats around a period: the best way through time and tempo. */
function trackBeats(strength: Float64Array, around: number): number[] {
  const bins = Math.floor(REACH / BIN);
  const periods = Array.from({ length: 2 * bins + 1 }, (_, k) => around * Math.exp((k - bins) * BIN));
  const width = periods.length;
  const frames = strength.length;
  const score = new Float64Array(frames * width);
  const from = new Int32Array(frames * width).fill(-1);
  for (let frame = 0; frame < frames; frame++) {
    for (let k = 0; k < width; k++) {
      let best = frame < 1.5 * around ? -0.15 * Math.abs(k - bins) : -Infinity;
      let origin = -1;
      const meant = frame - periods[k]!;
      for (let before = Math.ceil(meant - 2); before <= meant + 2; before++) {
        if (before < 0) continue;
        const price = JITTER * (before - meant) ** 2;
        for (let other = Math.max(0, k - 1); other <= Math.min(width - 1, k + 1); other++) {
          const value = score[before * width + other]! - price - (other === k ? 0 : CHANGE);
          if (value > best) {
            best = value;
            origin = before * width + other;
          }
        }
      }
      score[frame * width + k] = best + strength[frame]!;
      from[frame * width + k] = origin;
    }
  }
  let at = -1;
  const first = Math.max(0, Math.floor(frames - 1.2 * around - 0.5 * RATE));
  for (let state = first * width; state < frames * width; state++)
    if (at < 0 || score[state]! > score[at]!) at = state;
  const beats: number[] = [];
  for (; at >= 0; at = from[at]!) beats.push(Math.floor(at / width));
  return beats.reverse();
}

/** Beats moved onto the strokes that are struck at them, and those between smoothed; none before the first or after the last stroke. */
function settled(beats: readonly number[], onsets: readonly Onset[]): number[] {
  const moved = beats.map((beat, k) => {
    const period =
      ((beats[k + 1] ?? beat) - (beats[k - 1] ?? beat)) / (k === 0 || k === beats.length - 1 ? 1 : 2);
    const near = nearest(onsets, beat);
    return near && Math.abs(near.seconds - beat) < Math.min(0.06, period * 0.12) ? near.seconds : beat;
  });
  const [first, last] = [onsets[0]!.seconds, onsets.at(-1)!.seconds];
  const slack = 0.08;
  return moved.filter((beat) => beat >= first - slack && beat <= last + slack);
}

function halfway(beats: readonly number[]): number[] {
  const middles = beats.slice(1).map((beat, k) => (beat + beats[k]!) / 2);
  return [beats[0]! - (beats[1]! - beats[0]!) / 2, ...middles];
}

const bySeconds = bisector(({ seconds }: Onset) => seconds);

function nearest(onsets: readonly Onset[], seconds: number): Onset | undefined {
  const at = bySeconds.left(onsets, seconds);
  const [after, before] = [onsets[at] ?? onsets.at(-1), onsets[at - 1]];
  if (!before) return after;
  return after && after.seconds - seconds < seconds - before.seconds ? after : before;
}

/** What is struck at a place of a beat. */
interface Struck {
  weight: number;
  bass: number;
  kick: number;
  snare: number;
  length: number;
}

const SILENT: Struck = { weight: 0, bass: 0, kick: 0, snare: 0, length: 0 };

/** A reading for each length of bar and each beat that could be its first. */
export function barReadings(
  beats: readonly number[],
  onsets: readonly Onset[],
  lengths: readonly number[],
): Reading[] {
  const strong = usualWeight(onsets);
  const struckAt = (seconds: number): Struck => {
    const near = nearest(onsets, seconds);
    if (!near || Math.abs(near.seconds - seconds) > 0.07) return SILENT;
    return { ...near, weight: Math.min(1, near.weight / strong) };
  };
  const on = beats.map(struckAt);
  const between = beats.slice(1).map((beat, k) => struckAt((beat + beats[k]!) / 2));
  const changes = harmonyChanges(beats, onsets);
  const changesBetween = harmonyChanges(halfway(beats), onsets);
  const low = (struck: Struck) => Math.max(struck.bass, struck.kick);
  const periods = beats.slice(1).map((beat, k) => Math.log(beat - beats[k]!));
  const bpm = bpmOfBeats(beats);
  const common = {
    onBeat: mean(on.map(({ weight }) => weight)),
    between: -mean(between.map(({ weight }) => weight)),
    low: mean(on.map(low)) - mean(between.map(low)),
    grid: gridFit(beats, onsets),
    tempo: -(Math.log2(bpm / USUAL_BPM) ** 2),
    uneven: -10 * mean(periods.slice(1).map((period, k) => Math.abs(period - periods[k]!))),
    change: mean(changes) - mean(changesBetween),
    held:
      mean(on.map(({ length }) => Math.min(1, length))) -
      mean(between.map(({ length }) => Math.min(1, length))),
  };
  return lengths.flatMap((beatsPerBar) =>
    Array.from({ length: Math.min(beatsPerBar, beats.length) }, (_, firstDownbeat): Reading => {
      const place = (k: number) => (k - firstDownbeat + 2 * beatsPerBar) % beatsPerBar;
      const over = (values: readonly number[], which: (at: number) => boolean) =>
        mean(values.filter((_, k) => which(place(k)))) - mean(values.filter((_, k) => !which(place(k))));
      const first = (at: number) => at === 0;
      return {
        beats: [...beats],
        beatsPerBar,
        firstDownbeat,
        signs: {
          ...common,
          bar:
            over(changes, first) +
            0.5 * over(on.map(low), first) +
            0.15 *
              over(
                on.map(({ weight }) => weight),
                first,
              ) +
            0.3 *
              over(
                on.map(({ length }) => Math.min(1.5, length)),
                first,
              ) +
            // Four is the rule, three must show.
            (beatsPerBar === 4 ? 0.1 : 0),
          backbeat:
            beatsPerBar === 4
              ? over(
                  on.map(({ snare }) => snare),
                  (at) => at % 2 === 1,
                )
              : 0,
        },
      };
    }),
  );
}

/** By beat, 0..1: how much else sounds from it on than before it. */
function harmonyChanges(beats: readonly number[], onsets: readonly Onset[]): number[] {
  const chroma = beats.map(() => new Float64Array(12));
  let at = 0;
  for (const { seconds, pitchClasses, length, weight, bass } of onsets) {
    while (at + 1 < beats.length && beats[at + 1]! - 0.06 <= seconds) at++;
    if (seconds < beats[0]! - 0.06) continue;
    for (
      let beat = at;
      beat < beats.length && (beat === at || beats[beat]! < seconds + length - 0.06);
      beat++
    ) {
      const end = Math.min(seconds + length, beats[beat + 1] ?? Infinity);
      const share = Math.max(0.1, end - Math.max(seconds, beats[beat]!));
      for (let pc = 0; pc < 12; pc++)
        if (pitchClasses & (1 << pc)) chroma[beat]![pc]! += share * weight * (1 + bass);
    }
  }
  return chroma.map((here, k) => {
    const before = chroma[k - 1];
    if (!before) return 0.5;
    // Silence changes nothing.
    return isSilent(here) || isSilent(before) ? 0 : 1 - cosine(here, before);
  });
}

function isSilent(chroma: Float64Array): boolean {
  return chroma.every((weight) => weight === 0);
}

/** -1..0: how far strokes lie from halves, thirds and quarters of their beat, the finer the worse. */
function gridFit(beats: readonly number[], onsets: readonly Onset[]): number {
  let at = 0;
  const places: number[] = [];
  for (const { seconds } of onsets) {
    while (at + 1 < beats.length && beats[at + 1]! <= seconds) at++;
    const [from, to] = [beats[at]!, beats[at + 1]];
    if (to === undefined || seconds < from) continue;
    places.push((seconds - from) / (to - from));
  }
  if (places.length === 0) return -1;
  const cost = (grid: number, price: number) => {
    const sum = places.reduce(
      (all, place) =>
        all + Math.min(1, (Math.abs(place * grid - Math.round(place * grid)) / grid / 0.08) ** 2),
      0,
    );
    return sum / places.length + price;
  };
  return -Math.min(cost(1, 0), cost(2, 0.02), cost(4, 0.1), cost(3, 0.12), cost(6, 0.3));
}

/** Ticks a quarter note of bars that are found in film time, which has no whole number of them. */
const FILM_PPQ = 480;

/** The beats as anchors on a grid of quarter notes: how a take is put on its bars. */
export function barsByBeats(take: Take, { beats, beatsPerBar, firstDownbeat }: BeatFinding): Retiming {
  const { timeline } = take.timing;
  const isFilm = take.file.division.kind !== 'metrical';
  const ppq = isFilm ? FILM_PPQ : timeline.ppq;
  const lead = (beatsPerBar - (firstDownbeat % beatsPerBar)) % beatsPerBar;
  const anchors: [number, number][] = [];
  beats.forEach((beat, k) => {
    const from = Math.round(secondsToTicks(timeline, beat));
    if (from >= 0 && (anchors.length === 0 || from > anchors.at(-1)![0]))
      anchors.push([from, (k + lead) * ppq]);
  });
  return { anchors, meter: { numerator: beatsPerBar, denominator: 4 }, ...(isFilm ? { ppq } : {}) };
}
