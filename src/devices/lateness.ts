/** How late messages were handled, as a histogram: how many, by steps of half a millisecond. */
export interface Lateness {
  counts: Uint32Array;
  most: number;
}

const STEP_MS = 0.5;

export function createLateness(): Lateness {
  return { counts: new Uint32Array(2000), most: 0 };
}

export function countLateness(lateness: Lateness, ms: number): void {
  const late = Math.max(0, ms);
  lateness.counts[Math.min(lateness.counts.length - 1, Math.floor(late / STEP_MS))]!++;
  lateness.most = Math.max(lateness.most, late);
}

/** Median, 95th percentile and most, in milliseconds; undefined where nothing was counted. */
export function latenessFacts({
  counts,
  most,
}: Lateness): { median: number; p95: number; most: number } | undefined {
  const total = counts.reduce((sum, count) => sum + count, 0);
  if (total === 0) return undefined;
  const percentile = (share: number) => {
    let seen = 0;
    const step = counts.findIndex((count) => (seen += count) >= share * total);
    return Math.min(most, (step + 1) * STEP_MS);
  };
  const rounded = (ms: number) => Math.round(ms * 10) / 10;
  return { median: rounded(percentile(0.5)), p95: rounded(percentile(0.95)), most: rounded(most) };
}
