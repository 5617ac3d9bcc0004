import type { Take } from '../capture/take.ts';
import { barStart, barsUntil, meantBar } from '../music/timeline.ts';
import { MOST_BARS } from './chroma.ts';

/** Notes of a bar on a grid of sixteenths, in quarter notes. */
const GRID = 1 / 4;

/** How much pitches count against onsets. */
const PITCH_SHARE = 0.8;

/** What a bar plays: places of a grid, and pitches on them. */
export interface Bar {
  /** Ascending. */
  onsets: Int32Array;
  notes: Int32Array;
}

export function barsOf(take: Take, indices: readonly number[]): Bar[] {
  const { timeline } = take.timing;
  const bars: number[][] = [];
  for (const i of indices) {
    const bar = meantBar(timeline, take.notes.tick[i]!);
    if (bar > MOST_BARS) continue;
    while (bars.length < bar) bars.push([]);
    const step = Math.round((take.notes.tick[i]! - barStart(timeline, bar)) / (timeline.ppq * GRID));
    bars[bar - 1]!.push(step * 128 + take.notes.pitch[i]!);
  }
  const end = Math.min(MOST_BARS, barsUntil(timeline, take.timing.ticks));
  while (bars.length < end) bars.push([]);
  return bars.map(barOf);
}

/** A bar of notes as places times 128 and pitches. */
export function barOf(notes: readonly number[]): Bar {
  return {
    onsets: ascending(notes.map((note) => Math.floor(note / 128))),
    notes: ascending(notes),
  };
}

function ascending(values: readonly number[]): Int32Array {
  return Int32Array.from(new Set(values)).sort();
}

/** How alike two bars are, asked once for each pair. */
export type Likeness = (one: number, other: number) => number;

export function likenessTable(bars: readonly Bar[]): Likeness {
  const known = new Float32Array(bars.length * bars.length).fill(-1);
  return (one, other) => {
    const at = one * bars.length + other;
    if (known[at]! < 0) known[at] = barLikeness(bars[one]!, bars[other]!);
    return known[at]!;
  };
}

/** 0..1; two bars without notes tell nothing for or against. */
export function barLikeness(one: Bar, other: Bar, shift = 0): number {
  if (one.notes.length === 0 && other.notes.length === 0) return 0.5;
  return (
    PITCH_SHARE * shared(one.notes, other.notes, shift) + (1 - PITCH_SHARE) * shared(one.onsets, other.onsets)
  );
}

/** Dice's coefficient: twice what both have over what each has. */
function shared(one: Int32Array, other: Int32Array, shift = 0): number {
  const all = one.length + other.length;
  return all === 0 ? 1 : (2 * inBoth(one, other, shift)) / all;
}

/** How many values two ascending lists have in common, the first moved by `shift`. */
export function inBoth(one: Int32Array, other: Int32Array, shift = 0): number {
  let [both, i, j] = [0, 0, 0];
  while (i < one.length && j < other.length) {
    const difference = one[i]! + shift - other[j]!;
    if (difference === 0) both++;
    if (difference <= 0) i++;
    if (difference >= 0) j++;
  }
  return both;
}

/** Of the notes of two stretches of bars, bar by bar from their beginnings, the share (0..1) that both have. */
export function sharedNotes(played: readonly Bar[], one: number, other: number, bars: number): number {
  let [both, all] = [0, 0];
  for (let k = 0; k < bars; k++) {
    const [a, b] = [played[one + k]!.notes, played[other + k]!.notes];
    both += 2 * inBoth(a, b);
    all += a.length + b.length;
  }
  return all === 0 ? 1 : both / all;
}
