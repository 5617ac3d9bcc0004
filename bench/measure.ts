/** What a benchmark says last, as one line of JSON. `ratio` is ours / reference. */
export interface BenchResult {
  bench: string;
  ours: number;
  reference: number;
  ratio: number;
  unit: string;
  /** Further numbers by name, where a benchmark has more to say than one. */
  figures?: Record<string, number>;
}

/**
 * Times two functions in turn, ours, reference, ours, reference, ..., so that a machine whose speed drifts
 * treats both alike. Returns the median milliseconds of each, after one round that is not counted.
 */
export function timeInTurn(
  ours: () => void,
  reference: () => void,
  rounds = 9,
): { ours: number; reference: number } {
  const times: { ours: number[]; reference: number[] } = { ours: [], reference: [] };
  for (let round = 0; round <= rounds; round++) {
    for (const [name, run] of [
      ['ours', ours],
      ['reference', reference],
    ] as const) {
      const start = performance.now();
      run();
      if (round > 0) times[name].push(performance.now() - start);
    }
  }
  return { ours: middle(times.ours), reference: middle(times.reference) };
}

export function middle(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[values.length >> 1]!;
}
