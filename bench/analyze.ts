import { analyzeTake } from '../src/core/analyze/analysis.ts';
import { readTakes } from '../src/core/capture/take.ts';
import { splitTake } from '../src/core/split/split.ts';
import { midiMaterial } from './material.ts';
import { timeInTurn, type BenchResult } from './measure.ts';

/**
 * Analyzing takes of about 3,000 notes on one core: milliseconds a take, split before; the reference is reading the same
 * bytes (ours, since both are ours to better). Prints the mean number of notes.
 */
export function bench(): BenchResult {
  const takes = midiMaterial().flatMap((bytes) =>
    readTakes(bytes)
      .filter(({ notes }) => notes.length >= 2000 && notes.length <= 4500)
      .map((take) => ({ bytes, take, split: splitTake(take) })),
  );
  if (takes.length === 0) throw new Error('Among the files is none of 2,000 to 4,500 notes.');
  const notes = takes.reduce((sum, { take }) => sum + take.notes.length, 0) / takes.length;
  console.log(`${takes.length} takes of ${Math.round(notes)} notes at the mean`);
  const { ours, reference } = timeInTurn(
    () => takes.forEach(({ take, split }) => analyzeTake(take, split)),
    () => takes.forEach(({ bytes }) => readTakes(bytes)),
    5,
  );
  return {
    bench: 'analyze',
    ours: ours / takes.length,
    reference: reference / takes.length,
    ratio: ours / reference,
    unit: 'ms/take',
  };
}
