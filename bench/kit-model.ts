import { basename } from 'node:path';
import { readFileSync } from 'node:fs';
import { readTakes, takeFrom, type Take } from '../src/core/capture/take.ts';
import { GM_DRUM_CHANNEL } from '../src/core/midi/gm.ts';
import { harmonyOf, misfit } from '../src/core/split/harmony.ts';
import { kitFeatures, kitSigns } from '../src/core/split/kit.ts';
import { partNotes, splitTake } from '../src/core/split/split.ts';
import { performanceFile } from '../src/core/standins/performance.ts';
import { STAND_INS, standInById } from '../src/core/standins/stand-ins.ts';
import { openmsxFiles } from '../tests/support/openmsx.ts';
import type { BenchResult } from './measure.ts';

interface Row {
  file: string;
  part: string;
  isKit: boolean;
  weight: number;
  features: number[];
}

/**
 * Fits the model of `core/split/kit.ts` and says how well it does on files it has not seen: each file left out in
 * turn. Kits are known by channel 10, which the model does not see. Prints the weights to be copied there.
 */
export function bench(): BenchResult {
  const rows = [...openmsxRows(), ...standInRows()];
  let right = 0;
  for (const file of new Set(rows.map((row) => row.file))) {
    const weights = fitLogistic(rows.filter((row) => row.file !== file));
    for (const row of rows.filter((candidate) => candidate.file === file)) {
      const p = probability(weights, row.features);
      if (p >= 0.5 === row.isKit) right++;
      else console.log(`${row.isKit ? 'missed' : 'false alarm'}: ${file}, ${row.part} (${p.toFixed(2)})`);
    }
  }
  const names = [...Object.keys(kitFeatures(NO_SIGNS)), 'rest'];
  const weights = fitLogistic(rows);
  console.log(names.map((name, i) => `${name}: ${weights[i]!.toFixed(2)}`).join(', '));
  const kits = rows.filter((row) => row.isKit).length;
  const guess = Math.max(kits, rows.length - kits) / rows.length;
  const share = right / rows.length;
  return { bench: 'kit-model', ours: share, reference: guess, ratio: share / guess, unit: 'share right' };
}

const NO_SIGNS = { heart: 0, pieces: 0, repetition: 0, steps: 0, free: 0, pitches: 0, misfit: null };

function openmsxRows(): Row[] {
  return openmsxFiles.flatMap((path) => rowsOf(basename(path), readTakes(readFileSync(path))[0]!, 1));
}

/** Every style of every stand-in, three times; they count less, for they are alike. */
function standInRows(): Row[] {
  return STAND_INS.flatMap(({ id }) => {
    const standIn = standInById(id);
    const style = standIn.fields.find(({ name }) => ['style', 'pattern', 'rhythm', 'order'].includes(name));
    const options = style?.kind === 'choice' ? style.options : [];
    const settings = options.length > 0 ? options.map(({ value }) => ({ [style!.name]: value })) : [{}];
    return settings.flatMap((chosen) =>
      [1, 2, 3].flatMap((seed) => {
        const performance = standIn.play({ ...standIn.defaults, ...chosen, seed });
        return rowsOf(`stand-in ${id}`, takeFrom(performanceFile(performance)), 0.3);
      }),
    );
  });
}

function rowsOf(file: string, take: Take, weight: number): Row[] {
  const split = splitTake(take);
  const lists = split.parts.map((_, part) => partNotes(split, part));
  const harmony = harmonyOf(take, lists);
  return split.parts.flatMap((part, index): Row[] => {
    const indices = lists[index]!;
    if (indices.length < 8) return [];
    const others = [...lists.keys()].filter((other) => other !== index);
    const signs = kitSigns(take, indices, misfit(take, harmony, indices, others));
    const features = Object.values(kitFeatures(signs));
    return [{ file, part: part.name, isKit: part.channel === GM_DRUM_CHANNEL, weight, features }];
  });
}

/** Weights, the last one the constant; by gradient descent with a little shrinkage. */
function fitLogistic(rows: readonly Row[]): number[] {
  const size = rows[0]!.features.length;
  const weights = new Array<number>(size + 1).fill(0);
  const total = rows.reduce((sum, row) => sum + row.weight, 0);
  for (let round = 0; round < 3000; round++) {
    const slope = new Array<number>(size + 1).fill(0);
    for (const { features, isKit, weight } of rows) {
      const error = (probability(weights, features) - (isKit ? 1 : 0)) * weight;
      features.forEach((value, k) => (slope[k]! += error * value));
      slope[size]! += error;
    }
    for (let k = 0; k <= size; k++)
      weights[k]! -= 2 * (slope[k]! / total + (k < size ? 0.0008 * weights[k]! : 0));
  }
  return weights;
}

function probability(weights: readonly number[], features: readonly number[]): number {
  const sum = features.reduce((all, value, k) => all + value * weights[k]!, weights[features.length]!);
  return 1 / (1 + Math.exp(-sum));
}
