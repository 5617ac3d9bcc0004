import { parseMidi } from 'midi-file';
import { readTakes } from '../src/core/capture/take.ts';
import { splitTake } from '../src/core/split/split.ts';
import { timeInTurn, type BenchResult } from './measure.ts';
import { midiMaterial } from './material.ts';

/** From bytes to parts with roles and names, in files a second; the reference only parses (npm midi-file). */
export function bench(): BenchResult {
  const files = midiMaterial();
  const { ours, reference } = timeInTurn(
    () => files.forEach((bytes) => readTakes(bytes).forEach(splitTake)),
    () => files.forEach((bytes) => parseMidi(bytes)),
  );
  const perSecond = (ms: number) => (files.length / ms) * 1000;
  return {
    bench: 'split',
    ours: perSecond(ours),
    reference: perSecond(reference),
    ratio: reference / ours,
    unit: 'files/s',
  };
}
