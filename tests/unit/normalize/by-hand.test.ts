import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { parseKey } from '../../../src/core/music/key.ts';
import { withHandEdits } from '../../../src/core/normalize/by-hand.ts';
import { withPreset } from '../../../src/core/normalize/apply-preset.ts';
import { HOUSE, houseRecipe } from '../../../src/core/normalize/house.ts';
import { applyRecipe, type Recipe } from '../../../src/core/normalize/recipe.ts';
import { barOf, clipArbitrary } from '../../support/clips.ts';

const clip = barOf(
  [
    [0, 480, 62],
    [480, 480, 65],
    [960, 480, 69],
  ],
  { key: parseKey('Dm')! },
);
const recipe = houseRecipe('keys', { start: 1, count: 1 }, 'minor', { ...HOUSE, ppq: 960 });
const result = (of: Recipe) => applyRecipe(clip, of).clip;

test('moved, stretched, louder, another pitch, deleted, added: over what the recipe left, in its ticks', () => {
  const before = result(recipe);
  const edited = withHandEdits(recipe, before, [
    { note: 0, tick: 240, velocity: 33 },
    { note: 1, duration: 60, semitones: 1 },
    { note: 2, remove: true },
    { add: { tick: 1920, duration: 480, pitch: 57, velocity: 70 } },
  ]);
  const after = applyRecipe(clip, edited);
  assert.deepEqual(
    after.clip.notes.map(({ tick, duration, pitch, velocity, origin }) => [
      tick,
      duration,
      pitch,
      velocity,
      origin,
    ]),
    [
      [240, 960, before.notes[0]!.pitch, 33, 0],
      [960, 60, before.notes[1]!.pitch + 1, before.notes[1]!.velocity, 1],
      [1920, 480, 57, 70, -1],
    ],
  );
  assert.deepEqual(after.setAside, [{ reason: 'deleted by hand', origins: [2] }]);
  assert.match(
    after.reports.find(({ step }) => step === 'edit')!.summary,
    /2 notes changed, 1 deleted, 1 added/,
  );
});

test('it is one more step, before what says how the phrase leaves, and is taken back by switching it off', () => {
  const edited = withHandEdits(recipe, result(recipe), [{ note: 0, velocity: 1 }]);
  assert.deepEqual(
    edited.steps.map(({ step }) => step),
    [...recipe.steps.slice(0, -2).map(({ step }) => step), 'edit', 'channel', 'resolution'],
  );
  const again = withHandEdits(edited, result(edited), [{ note: 0, velocity: 2 }]);
  assert.equal(again.steps.length, edited.steps.length);
  const off = again.steps.map((step) => (step.step === 'edit' ? { ...step, off: true } : step));
  assert.deepEqual(result({ version: 1, steps: off }), result(recipe));
});

test('what was done by hand holds in another key, another resolution, and under another preset', () => {
  const edited = withHandEdits(recipe, result(recipe), [
    { note: 1, semitones: 2 },
    { add: { tick: 0, duration: 480, pitch: 57, velocity: 70 } },
  ]);
  const moved = withPreset(edited, {
    version: 1,
    steps: [
      { step: 'transpose', to: 'C' },
      { step: 'resolution', ppq: 96 },
    ],
  });
  const plain = withPreset(recipe, {
    version: 1,
    steps: [
      { step: 'transpose', to: 'C' },
      { step: 'resolution', ppq: 96 },
    ],
  });
  const [by, without] = [result(moved), result(plain)];
  assert.equal(by.notes.find(({ origin }) => origin === 1)!.pitch, without.notes[1]!.pitch + 2);
  // Written as an A in A minor, it is a C in C minor.
  assert.equal(by.notes.find(({ origin }) => origin < 0)!.pitch, 60);
  assert.equal(by.timeline.ppq, 96);
});

test('an added note is changed where it stands, and goes when it is deleted', () => {
  const added = withHandEdits(recipe, result(recipe), [
    { add: { tick: 0, duration: 480, pitch: 57, velocity: 70 } },
    { add: { tick: 960, duration: 480, pitch: 60, velocity: 80 } },
  ]);
  const louder = withHandEdits(added, result(added), [{ note: -2, velocity: 99, semitones: 3 }]);
  const second = result(louder).notes.find(({ origin }) => origin === -2)!;
  assert.deepEqual([second.velocity, second.pitch], [99, 63]);
  const gone = withHandEdits(louder, result(louder), [{ note: -1, remove: true }]);
  assert.deepEqual(
    result(gone)
      .notes.filter(({ origin }) => origin < 0)
      .map(({ velocity }) => velocity),
    [99],
  );
});

test('any note of any clip can be set to what is asked, whatever the steps before made of it', () => {
  fc.assert(
    fc.property(
      clipArbitrary.filter(({ notes }) => notes.length > 0),
      fc.nat(),
      fc.integer({ min: 1, max: 127 }),
      (source, pick, velocity) => {
        const steps: Recipe = {
          version: 1,
          steps: [
            { step: 'quantize', grid: '1/16' },
            { step: 'velocity', loud: 0.7 },
          ],
        };
        const left = applyRecipe(source, steps).clip;
        const { origin } = left.notes[pick % left.notes.length]!;
        const edited = withHandEdits(steps, left, [{ note: origin, tick: 100, duration: 50, velocity }]);
        const after = applyRecipe(source, edited).clip.notes.find((note) => note.origin === origin)!;
        assert.deepEqual([after.tick, after.duration, after.velocity], [100, 50, velocity]);
      },
    ),
    { numRuns: 60 },
  );
});
