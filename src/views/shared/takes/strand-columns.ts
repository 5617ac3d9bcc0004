import type { Take } from '../../../core/capture/take.ts';
import { barsUntil, barStart, beatTicks, meterAt, type Timeline } from '../../../core/music/timeline.ts';
import { playingParts, soundingPitch, type Part, type Split } from '../../../core/split/split.ts';
import type { BarLine, DrawnNotes } from '../../../ui/drawing/strand.ts';

/** Bars chosen by hand, counted from 1. */
export interface BarRange {
  start: number;
  count: number;
}

/** A part as it is drawn. */
export interface Strand {
  part: Part;
  /** In order of onset, at the pitches they sound at. */
  notes: DrawnNotes;
  /** Which notes of the take they are. */
  indices: number[];
  /** Those of them that are locked. */
  locked: number[];
}

/** Strands as they were drawn last, by the notes they are drawn from: what a move leaves as it was is not worked out anew. */
const drawn = new WeakMap<Take['notes'], Map<string, Strand>>();

/** The parts that have notes, ready to be drawn. */
export function strandsOf(take: Take, split: Split): Strand[] {
  const before = drawn.get(take.notes);
  const strands = playingParts(split).map(({ part, notes: indices }): Strand => {
    const known = before?.get(part.id);
    const locked = indices.filter((i) => split.locked[i]);
    if (known && isAlike(known, part, indices, locked)) return { ...known, part };
    return { part, notes: columnsOf(take, part, indices), indices, locked };
  });
  drawn.set(take.notes, new Map(strands.map((strand) => [strand.part.id, strand])));
  return strands;
}

function isAlike(known: Strand, part: Part, indices: readonly number[], locked: readonly number[]): boolean {
  return (
    sameList(known.indices, indices) &&
    sameList(known.locked, locked) &&
    JSON.stringify(known.part.pitchMap) === JSON.stringify(part.pitchMap)
  );
}

function sameList(a: readonly number[], b: readonly number[]): boolean {
  return a.length === b.length && a.every((value, i) => value === b[i]);
}

/** Some notes of a part as columns to be drawn. */
export function columnsOf(take: Take, part: Part, indices: readonly number[]): DrawnNotes {
  const pick = (column: ArrayLike<number>) => Int32Array.from(indices, (i) => column[i]!);
  const { notes } = take;
  return {
    length: indices.length,
    tick: pick(notes.tick),
    duration: pick(notes.duration),
    pitch: Int32Array.from(indices, (i) => soundingPitch(part.pitchMap, notes.pitch[i]!)),
    velocity: pick(notes.velocity),
  };
}

/** Bar lines with the beats between, for so many bars. */
export function barLinesWithBeats(timeline: Timeline, bars: number): BarLine[] {
  return Array.from({ length: bars }, (_, i) => {
    const tick = barStart(timeline, i + 1);
    const meter = meterAt(timeline, tick);
    const beat = beatTicks(timeline.ppq, meter);
    return { tick, beats: Array.from({ length: meter.numerator - 1 }, (_, b) => tick + (b + 1) * beat) };
  });
}

/** Bars a take has: up to its end, at least one. */
export function takeBars(take: Take): number {
  return Math.max(1, barsUntil(take.timing.timeline, take.timing.ticks));
}

/** Bars from the address, such as "17-18". */
export function barsFrom(text: string | null, last: number): BarRange | null {
  const [from, to] = (/^(\d+)-(\d+)$/.exec(text ?? '') ?? []).slice(1).map(Number);
  if (!from || !to || to < from || from > last) return null;
  return { start: from, count: Math.min(to, last) - from + 1 };
}
