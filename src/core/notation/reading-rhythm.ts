import { groups, range } from 'd3-array';
import { isCompound, type Meter } from '../music/meters.ts';
import { barStart, meterAt, positionAt, type Timeline } from '../music/timeline.ts';
import type { ClipNote } from '../phrase/clip.ts';

/**
 * Rhythm for the eye: a copy of the notes on sixteenths and triplets, cut at bar lines and tied over them. The phrase's own timing
 * is never touched.
 */

/** So many units to a quarter note: sixteenths are 3, eighths in a triplet 4. */
export const QUARTER = 12;

/** A chord, a note or a rest as it is written: no longer than what one sign can say. */
export interface Sign {
  /** Units from the beginning of its bar, and how many it lasts. */
  at: number;
  units: number;
  /** Pitches sounding; none for a rest. */
  pitches: number[];
  /** Whether it goes on from the sign before, and into the next. */
  tiedFrom: boolean;
  tiedTo: boolean;
}

/** Units of a bar, and of what its signs are grouped by: a quarter, or a dotted one where eighths go in threes. */
export function barUnits({ numerator, denominator }: { numerator: number; denominator: number }): {
  bar: number;
  beat: number;
} {
  return {
    bar: (numerator * 4 * QUARTER) / denominator,
    beat: isCompound({ numerator, denominator }) ? (3 * QUARTER) / 2 : QUARTER,
  };
}

/** A bar as it is written: where it begins, in units from bar one, and how long it is. */
export interface ReadBar {
  from: number;
  units: number;
  /** Units its signs are grouped by. */
  beat: number;
  meter: Meter;
}

/** Bars from bar one on, each in its own meter. `pickup` are the ticks before it. */
export function readBars(timeline: Timeline, pickup: number, bars: number): ReadBar[] {
  const first = positionAt(timeline, pickup).bar;
  const one = barStart(timeline, first);
  const unitsTo = (bar: number) => Math.round(((barStart(timeline, bar) - one) * QUARTER) / timeline.ppq);
  return Array.from({ length: bars }, (_, k) => {
    const { numerator, denominator } = meterAt(timeline, barStart(timeline, first + k));
    const meter = { numerator, denominator };
    const from = unitsTo(first + k);
    return { from, units: unitsTo(first + k + 1) - from, beat: barUnits(meter).beat, meter };
  });
}

/** Price of reading a beat in triplets, in squared units an onset: sixteenths are read where both are as near. */
const TRIPLET_PRICE = 0.35;

/** A gap shorter than this is played, not written: a rest for the eye lasts an eighth or more. */
const LEAST_REST = QUARTER / 2;

interface Placed {
  from: number;
  to: number;
  pitches: number[];
}

/**
 * The signs of each bar of one voice: notes that begin together are a chord, and what still sounds when the next begins is written
 * to there.
 * @param ticks of bar one, and how many bars there are
 */
export function signsOf(
  notes: readonly ClipNote[],
  timeline: Timeline,
  { pickup, bars }: { pickup: number; bars: number },
): Sign[][] {
  const read = readBars(timeline, pickup, bars);
  const perUnit = timeline.ppq / QUARTER;
  const length = read.reduce((sum, bar) => sum + bar.units, 0);
  const units = (tick: number) => (tick - pickup) / perUnit;
  const onsets = readOnsets(
    notes.map(({ tick }) => units(tick)),
    length,
  );
  const chords = new Map<number, { pitches: Set<number>; to: number }>();
  notes.forEach(({ tick, duration, pitch }, i) => {
    const from = onsets[i]!;
    const chord = chords.get(from) ?? { pitches: new Set<number>(), to: from };
    chord.pitches.add(pitch);
    chord.to = Math.max(chord.to, units(tick + duration));
    chords.set(from, chord);
  });
  const starts = [...chords.keys()].sort((a, b) => a - b);
  const placed = starts.map((from, k): Placed => {
    const next = starts[k + 1] ?? length;
    const { pitches, to } = chords.get(from)!;
    const ends = endOnGrid(from, Math.min(next, to));
    // A short gap before the next is how it was played, no rest.
    const until = next - ends < LEAST_REST ? next : ends;
    return { from, to: Math.min(length, until), pitches: [...pitches].sort((a, b) => a - b) };
  });
  return cutAtBars(withRests(placed, length), read);
}

/** Onsets on sixteenths, or where it is nearer on triplets, decided beat by beat. */
function readOnsets(onsets: readonly number[], length: number): number[] {
  const clamped = onsets.map((at) => Math.max(0, at));
  // What comes a little early belongs to the beat it leads to.
  const beats = groups(range(clamped.length), (i) => Math.floor((clamped[i]! + 1) / QUARTER));
  const read: number[] = [];
  for (const [beat, own] of beats) {
    const within = own.map((i) => clamped[i]! - beat * QUARTER);
    const off = (step: number) =>
      within.reduce((sum, at) => sum + (at - Math.round(at / step) * step) ** 2, 0) / within.length;
    const step = off(4) + TRIPLET_PRICE < off(3) ? 4 : 3;
    own.forEach((i, k) => {
      read[i] = Math.min(length - step, beat * QUARTER + Math.round(within[k]! / step) * step);
    });
  }
  return read;
}

/** Where a note ends, on the grid that its beginning is on; it lasts a step at least. */
function endOnGrid(from: number, to: number): number {
  const step = from % 3 === 0 ? 3 : 4;
  const beat = Math.floor(from / QUARTER) * QUARTER;
  const within = Math.round((to - beat) / step) * step + beat;
  return Math.max(from + step, to > beat + QUARTER ? Math.round(to / 3) * 3 : within);
}

function withRests(placed: readonly Placed[], length: number): Placed[] {
  const all: Placed[] = [];
  let at = 0;
  for (const one of placed) {
    if (one.from > at) all.push({ from: at, to: one.from, pitches: [] });
    all.push(one);
    at = one.to;
  }
  if (at < length) all.push({ from: at, to: length, pitches: [] });
  return all;
}

/** Units that one sign can say from the beginning of a beat: whole, dotted half, half, quarter, their dotted ones. */
const LONG = [48, 36, 24, 18, 12] as const;
/** And within a beat: dotted eighth, eighth, sixteenth; quarter and eighth of a triplet. */
const SHORT = [9, 8, 6, 4, 3] as const;

function cutAtBars(placed: readonly Placed[], bars: readonly ReadBar[]): Sign[][] {
  const result: Sign[][] = bars.map(() => []);
  let n = 0;
  for (const { from, to, pitches } of placed) {
    let at = from;
    while (at < to) {
      while (at >= bars[n]!.from + bars[n]!.units) n++;
      const bar = bars[n]!;
      const within = at - bar.from;
      const units = unitsFrom(within, Math.min(to, bar.from + bar.units) - at, bar.beat);
      result[n]!.push({
        ...{ at: within, units, pitches },
        tiedFrom: pitches.length > 0 && at > from,
        tiedTo: pitches.length > 0 && at + units < to,
      });
      at += units;
    }
  }
  return result;
}

/** The longest sign from a place in a bar that shows its beats. */
function unitsFrom(at: number, left: number, beat: number): number {
  if (at % beat === 0) {
    const long = LONG.find((units) => units <= left && (units % beat === 0 || units === 18));
    if (long !== undefined && (long !== 18 || beat === 18 || left === 18)) return long;
  }
  const toBeat = beat - (at % beat);
  const most = Math.min(left, toBeat);
  return SHORT.find((units) => units === most) ?? SHORT.find((units) => units <= most) ?? most;
}
