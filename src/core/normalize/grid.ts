/** Note values that onsets can be quantized to; T is a triplet. */
export const GRIDS = ['1/4', '1/8', '1/16', '1/32', '1/4T', '1/8T', '1/16T', '1/32T'] as const;

export type Grid = (typeof GRIDS)[number];

/** Length of a grid step in ticks, a fraction where the resolution does not divide by it. */
export function gridTicks(grid: Grid, ppq: number): number {
  const triplet = grid.endsWith('T');
  const denominator = Number(grid.slice(2).replace('T', ''));
  return ((ppq * 4) / denominator) * (triplet ? 2 / 3 : 1);
}
