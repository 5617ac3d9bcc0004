import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { between } from '../../../src/core/normalize/between.ts';
import { differenceOf, isFlag, isSame, outlierScores } from '../../../src/core/normalize/difference.ts';
import { applyRecipe } from '../../../src/core/normalize/recipe.ts';
import { setResolution } from '../../../src/core/normalize/resolution.ts';
import { barOf, clipArbitrary } from '../../support/clips.ts';

const clip = barOf([
  [0, 200, 60],
  [490, 200, 62],
  [950, 200, 64],
]);

test('what would change is told in notes, milliseconds, levels and semitones', () => {
  const { clip: after } = applyRecipe(clip, {
    version: 1,
    steps: [
      { step: 'quantize', grid: '1/4' },
      { step: 'velocity', loud: 0.5 },
      { step: 'transpose', semitones: 3 },
      { step: 'edit', change: [{ note: 0, remove: true }] },
    ],
  });
  const difference = differenceOf(clip, after);
  assert.deepEqual(difference, {
    notes: { before: 3, after: 2 },
    moved: 2,
    // 10 ticks at 120 BPM and 480 ticks a quarter are 10.4 ms.
    movedMs: 10.4,
    farthestMs: 10.4,
    loud: { before: 100, after: 64 },
    semitones: 3,
    repitched: 0,
    key: { before: null, after: null },
  });
  assert.equal(isSame(difference), false);
});

test('another resolution, or the same again, is no difference', () => {
  fc.assert(
    fc.property(clipArbitrary, (any) => {
      assert.ok(isSame(differenceOf(any, any)));
      const coarse = setResolution(any, { ppq: 9600 }).clip;
      assert.equal(differenceOf(any, coarse).moved, 0);
    }),
  );
});

test('what is unlike all others stands out, and what is like them does not', () => {
  const usual = differenceOf(
    clip,
    applyRecipe(clip, { version: 1, steps: [{ step: 'quantize', grid: '1/4' }] }).clip,
  );
  const odd = differenceOf(clip, applyRecipe(clip, { version: 1, steps: [{ step: 'shift', ms: 90 }] }).clip);
  const scores = outlierScores([...Array.from({ length: 9 }, () => usual), odd]);
  assert.deepEqual(scores.map(isFlag), [...Array<boolean>(9).fill(false), true]);
  assert.deepEqual(outlierScores([]), []);
});

test('between captured and normalized: one end is the one, the other end the other, half way is half way', () => {
  const after = applyRecipe(clip, { version: 1, steps: [{ step: 'quantize', grid: '1/4' }, { step: 'velocity', loud: 0.5 }] }).clip; // prettier-ignore
  assert.deepEqual(between(clip, after, 1), after);
  assert.deepEqual(between(clip, after, 0).notes, clip.notes);
  assert.deepEqual(
    between(clip, after, 0.5).notes.map(({ tick, velocity }) => [tick, velocity]),
    [
      [0, 82],
      [485, 82],
      [955, 82],
    ],
  );
});

test('a note that only one side has is there in its half of the way', () => {
  const gone = applyRecipe(clip, {
    version: 1,
    steps: [
      {
        step: 'edit',
        change: [{ note: 1, remove: true }],
        add: [{ beat: 3, length: 1, pitch: 72, velocity: 9 }],
      },
    ],
  }).clip;
  const pitches = (share: number) => between(clip, gone, share).notes.map(({ pitch }) => pitch);
  assert.deepEqual(pitches(0.2), [60, 62, 64]);
  assert.deepEqual(pitches(0.8), [60, 64, 72]);
});
