import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { parseRecipe } from '../../../src/core/normalize/parse.ts';
import {
  applyRecipe,
  STEP_NAMES,
  type RecipeStep,
  type StepName,
} from '../../../src/core/normalize/recipe.ts';
import type { Clip } from '../../../src/core/phrase/clip.ts';
import { clipArbitrary, stepArbitrary } from '../../support/clips.ts';

const only = (name: StepName) => stepArbitrary.filter(({ step }) => step === name);
const apply = (clip: Clip, step: RecipeStep) => applyRecipe(clip, { version: 1, steps: [step] });

/** Steps that keep the order in which notes were struck, where two were not struck together. */
const KEEPS_ORDER: readonly StepName[] = [
  'pickup',
  'switches',
  'drums',
  'time',
  'velocity',
  'length',
  'transpose',
  'register',
  'controls',
  'resolution',
  'channel',
  'name',
  'pedal',
];

for (const name of STEP_NAMES) {
  test(`${name}: repeatable, within MIDI's bounds, in order of time, and every note accounted for`, () => {
    fc.assert(
      fc.property(clipArbitrary, only(name), (clip, step) => {
        const result = apply(clip, step);
        assert.deepEqual(apply(clip, step), result);
        let tick = 0;
        for (const note of result.clip.notes) {
          assert.ok(note.tick >= tick, 'in order of time');
          tick = note.tick;
          assert.ok(Number.isInteger(note.tick) && Number.isInteger(note.duration) && note.duration >= 0);
          assert.ok(note.pitch >= 0 && note.pitch <= 127 && note.velocity >= 1 && note.velocity <= 127);
        }
        const captured = result.clip.notes.map(({ origin }) => origin).filter((origin) => origin >= 0);
        const out = [...new Set(captured), ...result.setAside.flatMap(({ origins }) => origins)];
        assert.deepEqual(
          out.sort((a, b) => a - b),
          clip.notes.map(({ origin }) => origin).sort((a, b) => a - b),
        );
        assert.ok(result.reports[0]!.summary.length > 0);
      }),
      { numRuns: 60 },
    );
  });

  test(`${name}: what is written is read as the same step`, () => {
    fc.assert(
      fc.property(only(name), (step) => {
        const recipe = { version: 1 as const, steps: [step] };
        assert.deepEqual(parseRecipe(JSON.parse(JSON.stringify(recipe))), JSON.parse(JSON.stringify(recipe)));
      }),
      { numRuns: 30 },
    );
  });
}

test('steps that are about other things leave the order in which notes were struck', () => {
  fc.assert(
    fc.property(
      clipArbitrary,
      stepArbitrary.filter(({ step }) => KEEPS_ORDER.includes(step)),
      (clip, step) => {
        const before = new Map(clip.notes.map(({ origin, tick }) => [origin, tick]));
        const { notes } = apply(clip, step).clip;
        for (let i = 1; i < notes.length; i++)
          assert.ok(before.get(notes[i - 1]!.origin)! <= before.get(notes[i]!.origin)!);
      },
    ),
    { numRuns: 200 },
  );
});

/** The setting of each step that does nothing. */
const NOTHING: RecipeStep[] = [
  { step: 'pickup', mode: 'keep' },
  { step: 'switches', mode: 'lock', pitches: [] },
  { step: 'drums', pairs: [] },
  { step: 'pedal', mode: 'drop' },
  { step: 'quantize', grid: '1/16', strength: 0 },
  { step: 'feel', feel: { grid: '1/16', places: [{ place: 0, by: 0.2, accent: 1 }] }, timing: 0, accents: 0 },
  { step: 'humanize', ms: 0, velocity: 0 },
  { step: 'length', factor: 1 },
  { step: 'shift', ms: 0, early: 'wrap' },
  { step: 'transpose', semitones: 0 },
  { step: 'controls', mode: 'keep' },
  { step: 'edit' },
  { step: 'channel' },
];

for (const step of NOTHING) {
  test(`${step.step}: at nothing it changes nothing`, () => {
    fc.assert(
      fc.property(clipArbitrary, (clip) => {
        const result = apply(clip, step);
        assert.deepEqual(result.clip.notes, clip.notes);
        assert.equal(result.reports[0]!.changed, 0);
        assert.equal(result.clip.length, clip.length);
      }),
      { numRuns: 40 },
    );
  });
}
