/** Small measures that the finders share. */

/** 0 of none. */
export function mean(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);
}

/** How far values lie from their mean, as the root of the mean square; 0 of none. */
export function deviation(values: readonly number[]): number {
  const middle = mean(values);
  return Math.sqrt(mean(values.map((value) => (value - middle) ** 2)));
}

/** 0..1: how likely something is with such a logarithm of its odds. */
export function logistic(logOdds: number): number {
  return 1 / (1 + Math.exp(-logOdds));
}

/** The middle value, of two the upper; 0 of none. */
export function upperMedian(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[values.length >> 1] ?? 0;
}

/** The value a quarter of the way up; 0 of none. */
export function lowerQuartile(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[values.length >> 2] ?? 0;
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
