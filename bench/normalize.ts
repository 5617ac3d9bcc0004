import { Note } from 'tonal';
import { bandFile } from '../src/core/standins/band.ts';
import { takeFrom } from '../src/core/capture/take.ts';
import { applyRecipe, type Recipe } from '../src/core/normalize/recipe.ts';
import { clipFromPart } from '../src/core/phrase/clip.ts';
import { splitTake } from '../src/core/split/split.ts';
import { timeInTurn, type BenchResult } from './measure.ts';

/** Phrases that are made in a round. */
const ROUND = 200;

const TEN_STEPS: Recipe = {
  version: 1,
  steps: [
    { step: 'bars', start: 1, count: 16 },
    { step: 'doubles', ms: 10 },
    { step: 'quantize', grid: '1/16', strength: 0.85, swing: 'keep' },
    { step: 'humanize', ms: 4, velocity: 3, seed: 1 },
    { step: 'velocity', loud: 0.8, range: 0.9 },
    { step: 'length', factor: 0.95 },
    { step: 'transpose', to: 'A' },
    { step: 'register', low: 43, high: 84 },
    { step: 'controls', mode: 'settle' },
    { step: 'resolution', ppq: 960 },
  ],
};

/**
 * Phrases a second on one core: ten steps on about 200 notes. The reference transposes the names of as many notes with
 * tonal, which is what a step costs where every note is an object of a general library.
 */
export function bench(): BenchResult {
  const chart = Array(4).fill('Dm | Bb | Gm | A7').join(' | ');
  const take = takeFrom(bandFile({ chart, style: 'river', bpm: 96, seed: 1, title: 'bench', mishaps: [] }));
  const split = splitTake(take);
  const keys = split.parts.findIndex(({ role }) => role === 'keys');
  const whole = clipFromPart(take, split, keys, { tonic: 2, mode: 'minor' });
  const clip = { ...whole, notes: whole.notes.slice(0, 200) };
  const names = clip.notes.map(({ pitch }) => Note.fromMidi(pitch));
  console.log(`${clip.notes.length} notes, ${TEN_STEPS.steps.length} steps`);
  const { ours, reference } = timeInTurn(
    () => {
      for (let i = 0; i < ROUND; i++) applyRecipe(clip, TEN_STEPS);
    },
    () => {
      for (let i = 0; i < ROUND; i++) names.forEach((name) => Note.transpose(name, '5P'));
    },
  );
  const perSecond = (ms: number) => (ROUND / ms) * 1000;
  return {
    bench: 'normalize',
    ours: perSecond(ours),
    reference: perSecond(reference),
    ratio: reference / ours,
    unit: 'phrases/s',
  };
}
