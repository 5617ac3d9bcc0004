import type { Notes } from '../midi/notes.ts';
import type { Key } from '../music/key.ts';

/**
 * Probe-tone profiles of Krumhansl & Kessler (1982), "Tracing the dynamic changes in perceived tonal
 * organization in a spatial representation of musical keys", as printed in Krumhansl (1990).
 */
export const KRUMHANSL = {
  major: [6.35, 2.23, 3.48, 2.33, 4.38, 4.09, 2.52, 5.19, 2.39, 3.66, 2.29, 2.88],
  minor: [6.33, 2.68, 3.52, 5.38, 2.6, 3.53, 2.54, 4.75, 3.98, 2.69, 3.34, 3.17],
} as const;

export interface KeyFinding extends Key {
  /** 0..1: how far this key stands out; the certainties of all 24 keys add up to 1. */
  certainty: number;
}

/**
 * Total length of the notes by pitch class, in ticks. A note longer than `longest` counts as that long, so
 * that one held pad note does not decide a key alone.
 */
export function pitchClassDurations(
  notes: Pick<Notes, 'length' | 'pitch' | 'duration'>,
  include: (index: number) => boolean,
  longest: number,
): Float64Array {
  const totals = new Float64Array(12);
  for (let i = 0; i < notes.length; i++) {
    if (!include(i)) continue;
    totals[notes.pitch[i]! % 12]! += Math.min(Math.max(notes.duration[i]!, 1), longest);
  }
  return totals;
}

/**
 * The 24 major and minor keys, likeliest first, by the Krumhansl-Schmuckler algorithm: the correlation of
 * durations by pitch class with each key's profile. Empty where nothing sounds.
 */
export function findKeys(durations: ArrayLike<number>): KeyFinding[] {
  const weights = Array.from(durations);
  if (weights.every((weight) => weight === 0)) return [];
  const scored = [...Array(24).keys()].map((i) => {
    const mode = i < 12 ? ('major' as const) : ('minor' as const);
    const tonic = i % 12;
    const profile = KRUMHANSL[mode];
    const turned = weights.map((_, pc) => weights[(pc + tonic) % 12]!);
    return { tonic, mode, score: correlation(turned, profile) };
  });
  scored.sort((a, b) => b.score - a.score);
  // Correlations lie close together; the factor spreads them so that a clear winner reads as one.
  const spread = scored.map(({ score }) => Math.exp(12 * (score - scored[0]!.score)));
  const total = spread.reduce((sum, value) => sum + value, 0);
  return scored.map(({ tonic, mode }, i) => ({ tonic, mode, certainty: spread[i]! / total }));
}

/** Pearson's correlation of two lists of equal length; 0 where either is constant. */
export function correlation(a: readonly number[], b: readonly number[]): number {
  const meanA = mean(a);
  const meanB = mean(b);
  let cross = 0;
  let squaresA = 0;
  let squaresB = 0;
  for (let i = 0; i < a.length; i++) {
    const da = a[i]! - meanA;
    const db = b[i]! - meanB;
    cross += da * db;
    squaresA += da * da;
    squaresB += db * db;
  }
  return squaresA === 0 || squaresB === 0 ? 0 : cross / Math.sqrt(squaresA * squaresB);
}

function mean(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / values.length;
}
