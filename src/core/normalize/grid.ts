import { barLines, barsUntil } from '../music/timeline.ts';
import type { Clip } from '../phrase/clip.ts';

/** Note values that onsets can be quantized to; T is a triplet. */
export const GRIDS = ['1/4', '1/8', '1/16', '1/32', '1/4T', '1/8T', '1/16T', '1/32T'] as const;

export type Grid = (typeof GRIDS)[number];

/** Length of a grid step in ticks, a fraction where the resolution does not divide by it. */
export function gridTicks(grid: Grid, ppq: number): number {
  const triplet = grid.endsWith('T');
  const denominator = Number(grid.slice(2).replace('T', ''));
  return ((ppq * 4) / denominator) * (triplet ? 2 / 3 : 1);
}

/**
 * Tells for ticks in ascending order the bar line at or before each, and the next one (Infinity after the last): a grid
 * is counted from each bar line.
 */
export function barAround(clip: Clip): (tick: number) => { line: number; next: number } {
  const last = Math.max(clip.notes.at(-1)?.tick ?? 0, clip.length - 1);
  const lines = barLines(clip.timeline, barsUntil(clip.timeline, last + 1));
  let bar = 0;
  return (tick) => {
    while (bar + 2 < lines.length && tick >= lines[bar + 1]!) bar++;
    return { line: lines[bar]!, next: lines[bar + 1] ?? Infinity };
  };
}
