import type { Take } from '../capture/take.ts';
import { barStart, barsUntil, positionAt } from '../music/timeline.ts';

/** A stretch of bars that comes again. */
export interface LoopFinding {
  /** From 1. */
  startBar: number;
  bars: number;
  /** How many times it is played, the first time counted. */
  repeats: number;
  /** 0..1: how much the repeats are alike. */
  likeness: number;
}

/** Periods that are looked for, in bars. */
const PERIODS = [1, 2, 3, 4, 6, 8, 12, 16, 24, 32];

/** Notes of a bar on a grid of sixteenths of a quarter note. */
const GRID = 1 / 4;

/** A note this much ahead of its bar belongs to the next, in quarter notes. */
const EARLY = 1 / 8;

/** The shortest period within this of the best explains the part. */
const ALMOST = 0.12;

/** Below this nothing is claimed. */
const ALIKE = 0.75;

/** The loop begins where a bar comes back about as well as the others do; before it lies an intro. */
const COMES_BACK = 0.35;

/** How much pitches count against onsets. */
const PITCH_SHARE = 0.7;

interface Bar {
  onsets: Set<number>;
  notes: Set<number>;
}

/**
 * The loops of a part, best first; empty where nothing repeats. A period explains a part when each bar is like the
 * one a period later, judged by pitches more than by onsets; the shortest that does so nearly as well as the best is the
 * loop. Bars before it, an intro, are left out.
 */
export function findLoops(take: Take, indices: readonly number[]): LoopFinding[] {
  const bars = barsOf(take, indices);
  const first = bars.findIndex(({ notes }) => notes.size > 0);
  if (first < 0) return [];
  const last = bars.findLastIndex(({ notes }) => notes.size > 0);
  const candidates = PERIODS.flatMap((period) => {
    const found = bestStart(bars, period, first, last);
    return found ? [found] : [];
  });
  const best = Math.max(0, ...candidates.map(({ likeness }) => likeness));
  if (best < ALIKE) return [];
  const good = candidates.filter(({ likeness }) => likeness >= Math.max(ALIKE, best - ALMOST));
  return good.map((loop) => ({ ...loop, likeness: Math.round(loop.likeness * 100) / 100 }));
}

function barsOf(take: Take, indices: readonly number[]): Bar[] {
  const { timeline } = take.timing;
  const bars: Bar[] = [];
  const early = EARLY * timeline.ppq;
  for (const i of indices) {
    const { bar } = positionAt(timeline, take.notes.tick[i]! + early);
    while (bars.length < bar) bars.push({ onsets: new Set(), notes: new Set() });
    const step = Math.round((take.notes.tick[i]! - barStart(timeline, bar)) / (timeline.ppq * GRID));
    bars[bar - 1]!.onsets.add(step);
    bars[bar - 1]!.notes.add(step * 128 + take.notes.pitch[i]!);
  }
  const end = Math.min(4096, barsUntil(timeline, take.timing.ticks));
  while (bars.length < end) bars.push({ onsets: new Set(), notes: new Set() });
  return bars;
}

/**
 * The earliest start from which a period repeats, and whose own first bar comes back: bars of an intro do not. Null where
 * it is not played twice.
 */
function bestStart(bars: readonly Bar[], period: number, first: number, last: number): LoopFinding | null {
  const options: (LoopFinding & { own: number })[] = [];
  const latest = Math.min(first + 8, last + 1 - 2 * period);
  for (let start = first; start <= latest; start++) {
    const likenesses: number[] = [];
    for (let bar = start; bar + period <= last; bar++)
      likenesses.push(likeness(bars[bar]!, bars[bar + period]!));
    if (likenesses.length < period) continue;
    const mean = likenesses.reduce((sum, value) => sum + value, 0) / likenesses.length;
    const repeats = Math.floor((last + 1 - start) / period);
    options.push({ startBar: start + 1, bars: period, repeats, likeness: mean, own: likenesses[0]! });
  }
  const best = Math.max(0, ...options.map((option) => option.likeness));
  const found = options.find(
    ({ likeness: mean, own }) => own >= best - COMES_BACK && mean >= best - COMES_BACK / 2,
  );
  if (!found) return null;
  const { own: _, ...loop } = found;
  return loop;
}

/** 0..1; two bars without notes tell nothing for or against. */
function likeness(one: Bar, other: Bar): number {
  if (one.notes.size === 0 && other.notes.size === 0) return 0.5;
  return PITCH_SHARE * shared(one.notes, other.notes) + (1 - PITCH_SHARE) * shared(one.onsets, other.onsets);
}

function shared(one: ReadonlySet<number>, other: ReadonlySet<number>): number {
  let both = 0;
  for (const value of one) if (other.has(value)) both++;
  const either = one.size + other.size - both;
  return either === 0 ? 1 : both / either;
}
