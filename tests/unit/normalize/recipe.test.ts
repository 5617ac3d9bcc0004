import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { clipToMidi } from '../../../src/core/exchange/midi-out.ts';
import { writeMidiFile } from '../../../src/core/midi/write.ts';
import { houseRecipe } from '../../../src/core/normalize/house.ts';
import { parseRecipe } from '../../../src/core/normalize/parse.ts';
import { applyRecipe, RecipeError } from '../../../src/core/normalize/recipe.ts';
import {
  packClipNotes,
  packControls,
  unpackClipNotes,
  unpackControls,
} from '../../../src/core/phrase/pack.ts';
import { ROLES } from '../../../src/core/split/roles.ts';
import { clipArbitrary, recipeArbitrary } from '../../support/clips.ts';

test('a recipe applied twice to the original gives the same bytes, and leaves the original alone', () => {
  fc.assert(
    fc.property(clipArbitrary, recipeArbitrary, (clip, recipe) => {
      const before = structuredClone(clip);
      const write = () => writeMidiFile(clipToMidi(applyRecipe(clip, recipe).clip, 'x'));
      assert.deepEqual(write(), write());
      assert.deepEqual(clip, before);
    }),
    { numRuns: 200 },
  );
});

test('every note is in the result or set aside, once; bounds and order hold', () => {
  fc.assert(
    fc.property(clipArbitrary, recipeArbitrary, (clip, recipe) => {
      const result = applyRecipe(clip, recipe);
      // A loop may wrap a note in two pieces of one origin; what was added by hand is below 0.
      const left = new Set(result.clip.notes.map((n) => n.origin).filter((origin) => origin >= 0));
      const out = [...left, ...result.setAside.flatMap((s) => s.origins)];
      assert.deepEqual(
        out.sort((a, b) => a - b),
        clip.notes.map((n) => n.origin).sort((a, b) => a - b),
      );
      assert.equal(result.reports.length, recipe.steps.length);
      let tick = 0;
      for (const note of result.clip.notes) {
        assert.ok(note.tick >= tick && Number.isInteger(note.tick) && Number.isInteger(note.duration));
        assert.ok(note.duration >= 0 && note.pitch >= 0 && note.pitch <= 127);
        assert.ok(note.velocity >= 1 && note.velocity <= 127);
        tick = note.tick;
      }
    }),
    { numRuns: 300 },
  );
});

test('switched off, every step leaves everything as it was and says so', () => {
  fc.assert(
    fc.property(clipArbitrary, recipeArbitrary, (clip, recipe) => {
      const off = { ...recipe, steps: recipe.steps.map((step) => ({ ...step, off: true })) };
      const result = applyRecipe(clip, off);
      assert.deepEqual(result.clip, clip);
      assert.ok(result.reports.every((report) => report.off && report.changed === 0));
    }),
  );
});

test('steps at nothing change nothing: strength 0, 0 semitones, 0 ms, the same resolution', () => {
  fc.assert(
    fc.property(clipArbitrary, (clip) => {
      const result = applyRecipe(clip, {
        version: 1,
        steps: [
          { step: 'quantize', grid: '1/16', strength: 0 },
          { step: 'transpose', semitones: 0 },
          { step: 'shift', ms: 0 },
          { step: 'length', factor: 1 },
          { step: 'humanize', ms: 0, velocity: 0 },
          { step: 'controls', mode: 'keep' },
          { step: 'resolution', ppq: clip.timeline.ppq },
        ],
      });
      assert.deepEqual(result.clip, clip);
    }),
  );
});

test('notes and controls packed for the database come back as they were', () => {
  fc.assert(
    fc.property(clipArbitrary, (clip) => {
      assert.deepEqual(unpackClipNotes(packClipNotes(clip.notes)), clip.notes);
      const controls = clip.notes.map((n) => ({
        tick: n.tick,
        kind: 0xb0,
        data1: n.pitch,
        data2: n.velocity,
      }));
      assert.deepEqual(unpackControls(packControls(controls)), controls);
    }),
  );
  assert.throws(() => unpackClipNotes(Uint8Array.of(1, 2, 3)), RangeError);
});

test("every role's house recipe is a recipe", () => {
  for (const role of ROLES) {
    const recipe = houseRecipe(role, { start: 1, count: 4 }, 'major');
    assert.deepEqual(parseRecipe(JSON.parse(JSON.stringify(recipe))), recipe);
  }
});

test('the example recipe of the command line is one', () => {
  const text = `{"version":1,"steps":[{"step":"bars","start":3,"count":4}, {"step":"quantize","grid":"1/16",
    "strength":1,"swing":"keep"}, {"step":"velocity","loud":0.9,"range":1,"except":["crash"]}, {"step":"shift",
    "ms":-30}, {"step":"transpose","to":"C"}, {"step":"transpose","semitones":3},
    {"step":"resolution","ppq":480}]}`;
  assert.equal(parseRecipe(JSON.parse(text)).steps.length, 7);
});

for (const [value, message] of [
  [null, /"version": 1/],
  [{ version: 2, steps: [] }, /"version": 1/],
  [{ version: 1 }, /list of "steps"/],
  [{ version: 1, steps: [{ step: 'reverse' }] }, /Step 1: "reverse" is not a step. There are bars, pickup/],
  [{ version: 1, steps: [{ step: 'bars', start: 0, count: 4 }] }, /Step 1 \(bars\): start/],
  [{ version: 1, steps: [{ step: 'quantize', grid: '1/5' }] }, /Step 1 \(quantize\): grid/],
  [{ version: 1, steps: [{ step: 'quantize', grid: '1/8', swing: 0.9 }] }, /swing must be/],
  [{ version: 1, steps: [{ step: 'transpose' }] }, /either "semitones" or "to"/],
  [{ version: 1, steps: [{ step: 'transpose', to: 'H' }] }, /to must be a key/],
  [{ version: 1, steps: [{ step: 'shift', ms: '5' }] }, /Step 1 \(shift\): ms/],
  [{ version: 1, steps: [{ step: 'shift', ms: 5, sm: 4 }] }, /sm/],
  [{ version: 1, steps: [{ step: 'register', low: 60, high: 62 }] }, /an octave or more/],
] as const) {
  test(`refused: ${JSON.stringify(value)}`, () => {
    assert.throws(
      () => parseRecipe(value),
      (error) => error instanceof RecipeError && message.test(error.message),
    );
  });
}
