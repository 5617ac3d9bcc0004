import type { Bar, Likeness } from './bars-alike.ts';
import { mean, upperMedian } from '../numbers.ts';
import { maximalSubsequences } from './subsequences.ts';

/**
 * How alike a bar must be to the one a period later to speak for a repeat rather than against it, and how alike all of a
 * stretch must be to be claimed: what comes back to the note is told first, what is varied explains the bars that are left.
 */
const EXACTLY = { alike: 0.85, claimed: 0.9 };
export const VARIED = { alike: 0.6, claimed: 0.77 };

export type Level = typeof VARIED;

export const LEVELS: readonly Level[] = [EXACTLY, VARIED];

/** The longest period that is looked for, in bars. */
const LONGEST = 64;

/** What speaks against counts so much: a stretch ends where the likeness breaks. */
const AGAINST = 1.5;

/** A loop is this much more alike than bars that are no repeats of each other, or is no more than the style. */
const OVER_OTHERS = 0.18;

/**
 * What comes back so often, and so far over the bars between, may be varied by so much more each time: of two variations of one loop each
 * has lost something of its own.
 */
const OFTEN = 6;
const FAR_OVER_OTHERS = 0.4;
const FOR_MANY = 0.07;

/** From here on repeats are exact enough to need no bars to compare with. */
const SURE = 0.9;

/** At its ends a stretch is trimmed of what is so much less alike. */
const EDGE = 0.1;

/** What is varied a little is so much less alike than what comes back to the note. */
export const A_LITTLE = 0.2;

/** A stretch of bars (from 0) over which a period comes back: all `bars` of them, the first time counted. */
export interface Run {
  start: number;
  bars: number;
  period: number;
  likeness: number;
}

/** The stretches that each period repeats over, at least once whole. */
export function allRuns(bars: readonly Bar[], likeness: Likeness, level: Level): Run[] {
  const sounds = bars.map(({ notes }) => notes.length > 0);
  const runs: Run[] = [];
  for (let period = 1; period <= Math.min(LONGEST, bars.length >> 1); period++) {
    const values = Array.from({ length: bars.length - period }, (_, k) =>
      sounds[k] || sounds[k + period] ? likeness(k, k + period) : null,
    );
    const scores = values.map((value) => {
      const over = value === null ? 0 : value - level.alike;
      return over < 0 ? over * AGAINST : over;
    });
    for (const [from, to] of maximalSubsequences(scores)) {
      const run = claimed({ from, to, period }, values, bars, sounds, likeness, level);
      if (run) runs.push(run);
    }
  }
  return runs;
}

/** A stretch that is a loop: trimmed to what sounds, long and alike enough, and more alike than the style makes it. */
function claimed(
  { from, to, period }: { from: number; to: number; period: number },
  values: readonly (number | null)[],
  bars: readonly Bar[],
  sounds: readonly boolean[],
  likeness: Likeness,
  level: Level,
): Run | undefined {
  let [start, end] = withoutEdges(from, to, period, values, likeness);
  while (start < end && !sounds[start]) start++;
  while (end > start && !sounds[end - 1]) end--;
  // The last bars of the last time may be a fill.
  const fill = period >> 2;
  if (end - start < 2 * period - fill) return undefined;
  const last = start + Math.floor((end - start + fill) / period) * period;
  end = Math.max(end, Math.min(last, sounds.length));
  if (end - start < 2 * period) return undefined;
  const inPeriod = sounds.slice(start, start + period).filter(Boolean).length;
  if (2 * inPeriod < period) return undefined;
  const alike = shareThatComesAgain(bars.slice(start, end), values.slice(start, end - period), period);
  if (alike < level.claimed - FOR_MANY) return undefined;
  if (alike < SURE) {
    const others = othersOf(start, end, period, likeness);
    const isOften = period > 1 && end - start >= OFTEN * period && alike >= others + FAR_OVER_OTHERS;
    if (alike < level.claimed - (isOften ? FOR_MANY : 0) || alike < others + OVER_OTHERS) return undefined;
  }
  return { start, bars: end - start, period, likeness: alike };
}

/** How much of what is played comes again a period later: bars count by their notes. */
function shareThatComesAgain(
  bars: readonly Bar[],
  values: readonly (number | null)[],
  period: number,
): number {
  let [both, all] = [0, 0];
  values.forEach((value, k) => {
    const notes = bars[k]!.notes.length + bars[k + period]!.notes.length;
    both += (value ?? 0) * notes;
    all += notes;
  });
  return all === 0 ? 0 : both / all;
}

/**
 * A stretch without bars at its ends that are like none of their repeats: an intro, an ending. One that is varied once is no
 * intro. As bars, [start, end).
 */
function withoutEdges(
  from: number,
  to: number,
  period: number,
  values: readonly (number | null)[],
  likeness: Likeness,
): [start: number, end: number] {
  const own = values.slice(from, to).filter((value) => value !== null);
  const usual = upperMedian(own);
  const spread = upperMedian(own.map((value) => Math.abs(value - usual)));
  const least = usual - Math.max(EDGE, 2 * spread);
  let [start, end] = [from, to + period];
  /** Whether a bar is unlike all those that lie some periods after it (1) or before it (-1) in the stretch. */
  const isOther = (bar: number, way: 1 | -1) => {
    for (let other = bar + way * period; other >= start && other < end; other += way * period)
      if (likeness(Math.min(bar, other), Math.max(bar, other)) >= least) return false;
    return true;
  };
  const isLikeOne = (bar: number) => {
    for (let other = bar + period; other < end; other += period)
      if (likeness(bar, other) >= Math.max(usual - A_LITTLE, VARIED.alike)) return true;
    return false;
  };
  while (end - start > period && values[start] !== null && isOther(start, 1)) start++;
  while (end - start > period && values[end - 1 - period] !== null && isOther(end - 1, -1)) end--;
  // One that is varied more than others is no reason to begin a bar late.
  while (start > 0 && isLikeOne(start - 1)) start--;
  return [start, end];
}

/** How alike bars of a stretch are that a period does not call the same; 0 where it calls all the same. */
function othersOf(start: number, end: number, period: number, likeness: Likeness): number {
  const values: number[] = [];
  const most = Math.min(end, start + 32);
  for (let one = start; one < most; one++)
    for (let other = one + 1; other < most; other++)
      if ((other - one) % period !== 0) values.push(likeness(one, other));
  return values.length === 0 ? 0 : mean(values);
}
