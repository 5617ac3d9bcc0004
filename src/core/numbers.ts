import { mean as meanOf, quantile, quickselect } from 'd3-array';

/** Figures of many numbers, for whoever counts: those of none are 0. */

export function mean(values: readonly number[]): number {
  return meanOf(values) ?? 0;
}

/** How far values lie from their mean, as the root of the mean square. */
export function deviation(values: readonly number[]): number {
  const middle = mean(values);
  return Math.sqrt(mean(values.map((value) => (value - middle) ** 2)));
}

/** 0..1: how likely something is with such a logarithm of its odds. */
export function logistic(logOdds: number): number {
  return 1 / (1 + Math.exp(-logOdds));
}

/** The middle value; the mean of the middle two. */
export function median(values: Iterable<number>): number {
  return percentile(values, 0.5);
}

/** Value below which a share (0..1) of the values lies, interpolated between neighbors. */
export function percentile(values: Iterable<number>, share: number): number {
  return quantile(values, share) ?? 0;
}

/** The middle value, of two the upper: one that really is among them. */
export function upperMedian(values: readonly number[]): number {
  return inOrder(values, values.length >> 1);
}

/** The value a quarter of the way up, one that really is among them. */
export function lowerQuartile(values: readonly number[]): number {
  return inOrder(values, values.length >> 2);
}

/** The value that stands at a place, from 0, when all stand in order; 0 beyond the last. */
export function inOrder(values: readonly number[], place: number): number {
  return place < values.length ? quickselect(Float64Array.from(values), place)[place]! : 0;
}

/** Cosine of the angle between two vectors: 1 of two that are zero, 0 where one is. */
export function cosine(a: Float64Array, b: Float64Array): number {
  let dot = 0;
  let lengthA = 0;
  let lengthB = 0;
  for (let k = 0; k < a.length; k++) {
    dot += a[k]! * b[k]!;
    lengthA += a[k]! ** 2;
    lengthB += b[k]! ** 2;
  }
  if (lengthA === 0 && lengthB === 0) return 1;
  return lengthA === 0 || lengthB === 0 ? 0 : dot / Math.sqrt(lengthA * lengthB);
}
