import type { Take } from '../../core/capture/take.ts';
import { barsUntil, barStart, beatTicks, meterAt, type Timeline } from '../../core/music/timeline.ts';
import { partNotes, type Split } from '../../core/split/split.ts';
import type { BarLine, DrawnNotes } from '../../ui/strand.ts';

/** Notes of a part as columns to be drawn. */
export function strandColumns(take: Take, split: Split, part: number): DrawnNotes {
  const indices = partNotes(split, part);
  const pick = (column: ArrayLike<number>) => Int32Array.from(indices, (i) => column[i]!);
  const { notes } = take;
  return {
    length: indices.length,
    tick: pick(notes.tick),
    duration: pick(notes.duration),
    pitch: pick(notes.pitch),
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
