import type { Take } from '../capture/take.ts';

/** Notes below and from a point on; the point at each onset, as the first pitch that lies above. */
export interface PointSplit {
  below: number[];
  above: number[];
  points: { tick: number; pitch: number }[];
}

/** What it costs to have these pitches (ascending) below and those above the point. */
export type PointCost = (below: readonly number[], above: readonly number[]) => number;

/** Price of moving the point by a semitone from one onset to the next. */
const MOVING = 0.35;

/** Notes within a 32nd are played at once. */
const AT_ONCE = 1 / 8;

/**
 * Divides notes by a point that may move: dynamic programming over the onsets, with a price for moving the point and
 * one for what lies below and above it.
 */
export function splitAtMovingPoint(take: Take, indices: readonly number[], cost: PointCost): PointSplit {
  const slices = slicesOf(take, indices);
  // The point lies anywhere from the lowest pitch (all above) to over the highest (all below).
  const lowest = indices.reduce((low, i) => Math.min(low, take.notes.pitch[i]!), 127);
  const highest = indices.reduce((high, i) => Math.max(high, take.notes.pitch[i]!), lowest);
  const back: Uint8Array[] = [];
  const sums = new Float64Array(highest - lowest + 2);
  for (const slice of slices) {
    back.push(moveCheaply(sums));
    addCosts(sums, lowest, pitchesOf(take, slice), cost);
  }
  const points = backtrack(sums, back);
  const result: PointSplit = { below: [], above: [], points: [] };
  slices.forEach((slice, k) => {
    const pitch = lowest + points[k]!;
    result.points.push({ tick: take.notes.tick[slice[0]!]!, pitch });
    for (const i of slice) (take.notes.pitch[i]! < pitch ? result.below : result.above).push(i);
  });
  result.below.sort((a, b) => a - b);
  result.above.sort((a, b) => a - b);
  return result;
}

/** Divides notes by a point that stays. */
export function splitAtPoint(take: Take, indices: readonly number[], pitch: number): PointSplit {
  return {
    below: indices.filter((i) => take.notes.pitch[i]! < pitch),
    above: indices.filter((i) => take.notes.pitch[i]! >= pitch),
    points: [{ tick: 0, pitch }],
  };
}

function slicesOf(take: Take, indices: readonly number[]): number[][] {
  const close = take.timing.timeline.ppq * AT_ONCE;
  const slices: number[][] = [];
  for (const i of indices) {
    const last = slices.at(-1);
    if (last && take.notes.tick[i]! - take.notes.tick[last[0]!]! < close) last.push(i);
    else slices.push([i]);
  }
  return slices;
}

function pitchesOf(take: Take, slice: readonly number[]): number[] {
  return slice.map((i) => take.notes.pitch[i]!).sort((a, b) => a - b);
}

/**
 * Brings each point's sum to the cheapest way to it from any point before, in two sweeps, for the price grows with the
 * distance. Answers from where each came.
 */
function moveCheaply(sums: Float64Array): Uint8Array {
  const from = new Uint8Array(sums.length);
  for (let point = 0; point < sums.length; point++) from[point] = point;
  for (let point = 1; point < sums.length; point++) {
    const moved = sums[point - 1]! + MOVING;
    if (moved < sums[point]!) {
      sums[point] = moved;
      from[point] = from[point - 1]!;
    }
  }
  for (let point = sums.length - 2; point >= 0; point--) {
    const moved = sums[point + 1]! + MOVING;
    if (moved < sums[point]!) {
      sums[point] = moved;
      from[point] = from[point + 1]!;
    }
  }
  return from;
}

/** The cost changes only where the point passes a pitch; between them it lies best in the middle of the gap. */
function addCosts(sums: Float64Array, lowest: number, pitches: readonly number[], cost: PointCost): void {
  const last = lowest + sums.length - 1;
  for (let below = 0; below <= pitches.length; below++) {
    const under = below === 0 ? -Infinity : pitches[below - 1]!;
    const over = below === pitches.length ? Infinity : pitches[below]!;
    if (under === over) continue;
    const price = cost(pitches.slice(0, below), pitches.slice(below));
    for (let pitch = Math.max(lowest, under + 1); pitch <= Math.min(last, over); pitch++) {
      // A hair's price for lying close to a note, so that the point settles in the gap.
      const near = Math.min(pitch - under, over - pitch + 1);
      sums[pitch - lowest]! += price + (near < 6 ? 0.1 * (6 - near) : 0);
    }
  }
}

function backtrack(sums: Float64Array, back: readonly Uint8Array[]): number[] {
  let point = 0;
  sums.forEach((sum, candidate) => {
    if (sum < sums[point]!) point = candidate;
  });
  const points: number[] = [];
  for (let k = back.length - 1; k >= 0; k--) {
    points.push(point);
    point = back[k]![point]!;
  }
  return points.reverse();
}
