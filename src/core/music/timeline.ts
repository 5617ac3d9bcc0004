import { bisector, bisectRight } from 'd3-array';
/**
 * Tempo and meter maps: ticks, bars and beats, and seconds, each into the others.
 * Bars and beats count from 1, ticks from 0.
 */

import type { BarNumber, Milliseconds, Seconds, Ticks, TicksPerQuarter } from './units.ts';

export interface TempoChange {
  tick: Ticks;
  /** Microseconds a quarter note, above 0. */
  microseconds: number;
}

export interface MeterChange {
  tick: Ticks;
  numerator: number;
  /** 1, 2, 4, 8, ... */
  denominator: number;
}

export interface Timeline {
  ppq: TicksPerQuarter;
  /** In order of time, the first at tick 0, no two at one tick. */
  tempos: TempoChange[];
  meters: MeterChange[];
}

/** A place in the music: bar and beat from 1, ticks into the beat from 0. */
export interface BarPosition {
  bar: BarNumber;
  beat: number;
  tick: Ticks;
}

/** RP-001: where a file says nothing, 120 BPM and 4/4. */
export const DEFAULT_MICROSECONDS = 500_000;

export function bpmOf(microseconds: number): number {
  return 60_000_000 / microseconds;
}

/** BPM to a hundredth, as tempos are told. */
export function roundedBpm(bpm: number): number {
  return Math.round(bpm * 100) / 100;
}

export function microsecondsOf(bpm: number): number {
  return Math.round(60_000_000 / bpm);
}

/** A timeline from changes in any order: the last of several at one tick wins, and tick 0 is filled in. */
export function makeTimeline(ppq: TicksPerQuarter, tempos: TempoChange[], meters: MeterChange[]): Timeline {
  return {
    ppq,
    tempos: settle(tempos, { tick: 0, microseconds: DEFAULT_MICROSECONDS }),
    meters: settle(meters, { tick: 0, numerator: 4, denominator: 4 }),
  };
}

/** One tempo and one meter throughout. */
export function steadyTimeline(ppq: TicksPerQuarter, bpm: number, numerator = 4, denominator = 4): Timeline {
  return makeTimeline(
    ppq,
    [{ tick: 0, microseconds: 60_000_000 / bpm }],
    [{ tick: 0, numerator, denominator }],
  );
}

function settle<Change extends { tick: number }>(changes: Change[], atStart: Change): Change[] {
  const byTick = new Map<number, Change>([[0, atStart]]);
  for (const change of changes) byTick.set(change.tick, change);
  return [...byTick.values()].sort((a, b) => a.tick - b.tick);
}

/** What is summed up once for a timeline: in which bar each meter begins, and how many seconds in each tempo. */
interface Sums {
  /** First bar of each meter, from 1. */
  bars: Float64Array;
  /** Seconds to the beginning of each tempo. */
  seconds: Float64Array;
}

const summed = new WeakMap<Timeline, Sums>();

/** Found once: a file may have a hundred thousand changes, and be asked as often. */
function sumsOf(timeline: Timeline): Sums {
  const known = summed.get(timeline);
  if (known) return known;
  const { meters, tempos, ppq } = timeline;
  const bars = new Float64Array(meters.length).fill(1);
  for (let i = 1; i < meters.length; i++) {
    const length = barTicks(ppq, meters[i - 1]!);
    bars[i] = bars[i - 1]! + Math.ceil((meters[i]!.tick - meters[i - 1]!.tick) / length);
  }
  const seconds = new Float64Array(tempos.length);
  for (let i = 1; i < tempos.length; i++) {
    const { tick, microseconds } = tempos[i - 1]!;
    seconds[i] = seconds[i - 1]! + ((tempos[i]!.tick - tick) * microseconds) / 1e6 / ppq;
  }
  const sums = { bars, seconds };
  summed.set(timeline, sums);
  return sums;
}

/** Looks for places among what stands in order of time. */
export const byTick = bisector(({ tick }: { tick: number }) => tick);

/** Index of the last of some ascending numbers that is not above a value; 0 where all are. */
export function lastNotAbove(ascending: ArrayLike<number>, value: number): number {
  return Math.max(0, bisectRight(ascending, value) - 1);
}

/** Seconds from tick 0 to a tick. */
export function ticksToSeconds(timeline: Timeline, tick: Ticks): Seconds {
  const { tempos, ppq } = timeline;
  const i = indexAt(tempos, tick);
  const { tick: start, microseconds } = tempos[i]!;
  return sumsOf(timeline).seconds[i]! + ((tick - start) * microseconds) / 1e6 / ppq;
}

/** The tick, a fraction included, that sounds a number of seconds after tick 0. */
export function secondsToTicks(timeline: Timeline, seconds: Seconds): Ticks {
  const sums = sumsOf(timeline).seconds;
  const i = lastNotAbove(sums, seconds);
  const { tick, microseconds } = timeline.tempos[i]!;
  return tick + (seconds - sums[i]!) / (microseconds / 1e6 / timeline.ppq);
}

export function tempoAt(timeline: Timeline, tick: Ticks): TempoChange {
  return timeline.tempos[indexAt(timeline.tempos, tick)]!;
}

export function meterAt(timeline: Timeline, tick: Ticks): MeterChange {
  return timeline.meters[indexAt(timeline.meters, tick)]!;
}

function indexAt(changes: readonly { tick: number }[], tick: number): number {
  return Math.max(0, byTick.right(changes, tick) - 1);
}

export function msPerQuarter(bpm: number): Milliseconds {
  return 60_000 / bpm;
}

/** Milliseconds of a bar at a tempo. */
export function barMs(bpm: number, meter: { numerator: number; denominator: number }): Milliseconds {
  return beatMs(bpm, meter) * meter.numerator;
}

/** Milliseconds of a beat of a meter; the tempo counts quarter notes. */
export function beatMs(bpm: number, meter: { denominator: number }): Milliseconds {
  return (msPerQuarter(bpm) * 4) / meter.denominator;
}

/** Ticks that some milliseconds last at the tempo of the beginning, a fraction included. */
export function ticksOfMs(timeline: Timeline, ms: Milliseconds): Ticks {
  return (ms / msPerQuarter(bpmOf(tempoAt(timeline, 0).microseconds))) * timeline.ppq;
}

/** The most ticks a quarter note a file can say (RP-001: fifteen bits). */
const FINEST = 0x7fff;

/** Ticks a quarter note in which several resolutions are exact; the finest of them where no file could say it. */
export function commonResolution(resolutions: readonly number[]): number {
  const common = resolutions.reduce((a, b) => (a * b) / greatestCommonDivisor(a, b));
  return common <= FINEST ? common : Math.max(...resolutions);
}

function greatestCommonDivisor(a: number, b: number): number {
  return b === 0 ? a : greatestCommonDivisor(b, a % b);
}

/** Ticks of one bar and one beat under a meter. */
export function barTicks(ppq: TicksPerQuarter, meter: { numerator: number; denominator: number }): Ticks {
  return beatTicks(ppq, meter) * meter.numerator;
}

export function beatTicks(ppq: TicksPerQuarter, meter: { denominator: number }): Ticks {
  return (ppq * 4) / meter.denominator;
}

/** First tick of a bar, counted from 1. A meter change inside a bar starts a new bar. */
export function barStart(timeline: Timeline, bar: BarNumber): Ticks {
  const { bars } = sumsOf(timeline);
  const i = lastNotAbove(bars, bar);
  const meter = timeline.meters[i]!;
  return meter.tick + (bar - bars[i]!) * barTicks(timeline.ppq, meter);
}

/** Bar, beat and tick of a tick. */
export function positionAt(timeline: Timeline, tick: Ticks): BarPosition {
  const i = indexAt(timeline.meters, tick);
  const meter = timeline.meters[i]!;
  const length = barTicks(timeline.ppq, meter);
  const beat = beatTicks(timeline.ppq, meter);
  const within = tick - meter.tick;
  const bars = Math.floor(within / length);
  const inBar = within - bars * length;
  const beats = Math.floor(inBar / beat);
  return { bar: sumsOf(timeline).bars[i]! + bars, beat: beats + 1, tick: inBar - beats * beat };
}

/** What begins so little ahead of a bar line, in quarter notes, is meant for the bar that comes: a hand, no pickup. */
export const EARLY = 1 / 8;

/** The bar (from 1) that something at a tick is meant for. */
export function meantBar(timeline: Timeline, tick: Ticks): BarNumber {
  return positionAt(timeline, tick + EARLY * timeline.ppq).bar;
}

/** Tick of a bar, beat and tick. */
export function tickOf(timeline: Timeline, position: BarPosition): Ticks {
  const start = barStart(timeline, position.bar);
  return start + (position.beat - 1) * beatTicks(timeline.ppq, meterAt(timeline, start)) + position.tick;
}

/** Number of bars up to a tick: 0 for tick 0, else the bar the tick before lies in. */
export function barsUntil(timeline: Timeline, tick: Ticks): number {
  return tick <= 0 ? 0 : positionAt(timeline, tick - 1).bar;
}

/** First ticks of bars 1 to `bars`, and the end of the last one: `bars + 1` numbers. */
export function barLines(timeline: Timeline, bars: number): Ticks[] {
  return Array.from({ length: bars + 1 }, (_, i) => barStart(timeline, i + 1));
}
