import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { MODE_STEPS, MODES, parseKey } from '../../../src/core/music/key.ts';
import { asPreset, withPreset } from '../../../src/core/normalize/apply-preset.ts';
import {
  baked,
  fitted,
  fittingInWords,
  fittingSteps,
  isFitting,
} from '../../../src/core/normalize/fitting.ts';
import {
  HOUSE,
  houseFitting,
  houseRecipe,
  houseSchema,
  referenceTonic,
  type House,
} from '../../../src/core/normalize/house.ts';
import { orderProblem } from '../../../src/core/normalize/order.ts';
import { parseFitting, parseRecipe } from '../../../src/core/normalize/parse.ts';
import { activeStep, applyRecipe, RecipeError, type RecipeStep } from '../../../src/core/normalize/recipe.ts';
import { sameSteps, unlikeInWords } from '../../../src/core/normalize/unlike.ts';
import { ROLES } from '../../../src/core/split/roles.ts';
import { barOf, recipeArbitrary } from '../../support/clips.ts';

const stepNames = ({ steps }: { steps: readonly RecipeStep[] }) => steps.map(({ step }) => step);

test('in storage every mode stands on white notes', () => {
  for (const mode of MODES) {
    const { tonic } = parseKey(referenceTonic(HOUSE, mode))!;
    const pitches = MODE_STEPS[mode].map((step) => (tonic + step) % 12).sort((a, b) => a - b);
    assert.deepEqual(pitches, [0, 2, 4, 5, 7, 9, 11], mode);
  }
});

/** Levels that the design gives: drums about 90 %, keys 80 %, strings 60 %; strummed guitar -30 ms, slow strings -100 ms. */
test('the house as it came: levels, shifts beside the notes, velocity in the recipe', () => {
  assert.deepEqual(
    (['drums', 'keys', 'strings'] as const).map((role) => HOUSE.roles[role].loud),
    [0.9, 0.8, 0.6],
  );
  assert.deepEqual(houseFitting('guitar', false), { shift: { ms: -30, early: 'pickup' } });
  assert.deepEqual(houseFitting('strings', true), { shift: { ms: -100, early: 'wrap' } });
  assert.deepEqual(houseFitting('bass', true), {});
  assert.ok(activeStep(houseRecipe('guitar', null, 'major'), 'velocity'));
  assert.equal(activeStep(houseRecipe('guitar', null, 'major'), 'shift'), undefined);
});

test('where the house wants it otherwise, shift is baked and velocity stands beside', () => {
  const house: House = { ...HOUSE, shiftBeside: false, velocityBeside: true, drumMap: [[35, 36]] };
  assert.equal(activeStep(houseRecipe('guitar', null, 'major', house), 'shift')?.ms, -30);
  assert.equal(activeStep(houseRecipe('guitar', null, 'major', house), 'velocity'), undefined);
  assert.equal(houseFitting('guitar', true, house).velocity?.loud, 0.8);
  assert.deepEqual(activeStep(houseRecipe('drums', null, null, house), 'drums')?.pairs, [[35, 36]]);
  assert.equal(activeStep(houseRecipe('bass', null, null, house), 'drums'), undefined);
});

test('the house that came is one, and what is none is refused with a sentence', () => {
  assert.deepEqual(houseSchema.validateSync(HOUSE, { strict: true }), HOUSE);
  const refused = (change: object, message: RegExp) =>
    assert.throws(() => houseSchema.validateSync({ ...HOUSE, ...change }, { strict: true }), message);
  refused({ major: 'H' }, /tonic such as "C"/);
  refused({ pattern: '{nmae}' }, /naming pattern knows take/);
  refused({ drumMap: [[36, 35], [36, 40]] }, /goes to one other/); // prettier-ignore
  refused({ roles: { ...HOUSE.roles, bass: { ...HOUSE.roles.bass, register: { low: 40, high: 44 } } } }, /octave or more/); // prettier-ignore
  refused({ ppq: 1 }, /at least 24/);
});

test('baked in, a fitting does to the notes what it did on the way out', () => {
  for (const role of ROLES) {
    const fitting = { shift: { ms: 15 }, velocity: { loud: 0.5 } };
    const recipe = houseRecipe(role, { start: 1, count: 1 }, 'major');
    const clip = barOf([[0, 480, 60], [500, 400, 64]], { role }); // prettier-ignore
    const { recipe: with_, fitting: empty } = baked(recipe, fitting);
    assert.deepEqual(empty, {});
    const [inside, outside] = [
      applyRecipe(clip, with_).clip,
      fitted(applyRecipe(clip, recipe).clip, fitting),
    ];
    inside.notes.forEach((note, i) => {
      const other = outside.notes[i]!;
      assert.ok(Math.abs(note.tick - other.tick) <= 1 && note.velocity === other.velocity);
    });
  }
  assert.equal(
    fittingInWords({ shift: { ms: -30 }, velocity: { loud: 0.75 } }),
    '30 ms earlier, loud notes at 75 %',
  );
  assert.equal(isFitting({}), false);
  assert.deepEqual(fittingSteps({}), []);
  assert.throws(() => parseFitting({ shift: { ms: 5000 } }), RecipeError);
  assert.deepEqual(parseFitting({ shift: { ms: -5 } }), { shift: { ms: -5 } });
});

test('a preset takes the place of the steps; bars and what was done by hand stay', () => {
  const own = parseRecipe({
    version: 1,
    steps: [
      { step: 'bars', start: 3, count: 2, tail: 'wrap' },
      { step: 'quantize', grid: '1/8' },
      { step: 'edit', change: [{ note: 4, velocity: 10 }] },
      { step: 'resolution', ppq: 480 },
    ],
  });
  const preset = asPreset(
    parseRecipe({
      version: 1,
      steps: [
        { step: 'velocity', loud: 0.5 },
        { step: 'channel', channel: 2 },
      ],
    }),
  );
  const next = withPreset(own, preset);
  assert.deepEqual(stepNames(next), ['bars', 'velocity', 'edit', 'channel']);
  assert.deepEqual(activeStep(next, 'bars'), { step: 'bars', start: 3, count: 2, tail: 'wrap' });
  assert.deepEqual(stepNames(asPreset(own)), ['quantize', 'resolution']);
});

test('a preset put on twice is put on once', () => {
  fc.assert(
    fc.property(recipeArbitrary, recipeArbitrary, (own, preset) => {
      const once = withPreset(own, preset);
      assert.deepEqual(withPreset(once, preset), once);
    }),
  );
});

test('an order that gives no sense is refused with the reason', () => {
  const refused = (steps: object[], reason: RegExp) =>
    assert.throws(
      () => parseRecipe({ version: 1, steps }),
      (error) => error instanceof RecipeError && reason.test(error.message),
    );
  refused(
    [
      { step: 'transpose', to: 'C' },
      { step: 'switches', mode: 'lock', pitches: [24] },
    ],
    /Key switches \(step 2\) cannot come after Transpose \(step 1\): key switches are told by the keys they were captured on/,
  );
  refused(
    [
      { step: 'time', factor: 2 },
      { step: 'bars', start: 1, count: 1 },
    ],
    /bars are counted as they are written/,
  );
  refused(
    [
      { step: 'controls', mode: 'drop' },
      { step: 'pedal', mode: 'length' },
    ],
    /taken away before it is read/,
  );
  refused(
    [
      { step: 'name', pattern: '{key}' },
      { step: 'transpose', to: 'C' },
    ],
    /would say the one before/,
  );
  // Switched off, or set so that it does no harm, a step stands where it likes.
  const fine: RecipeStep[] = [
    { step: 'transpose', to: 'C', off: true },
    { step: 'switches', mode: 'lock' },
    { step: 'controls', mode: 'settle' },
    { step: 'pedal', mode: 'keep' },
  ];
  assert.equal(orderProblem(fine), null);
});

test('key switches that a recipe names are not transposed, and can be left out', () => {
  const clip = barOf([[0, 100, 24], [0, 400, 62]], { key: parseKey('D')! }); // prettier-ignore
  const steps = (mode: 'lock' | 'drop'): RecipeStep[] => [
    { step: 'switches', mode, pitches: [24] },
    { step: 'transpose', to: 'C' },
  ];
  const pitches = (mode: 'lock' | 'drop') =>
    applyRecipe(clip, { version: 1, steps: steps(mode) }).clip.notes.map(({ pitch }) => pitch);
  assert.deepEqual(pitches('lock'), [24, 60]);
  assert.deepEqual(pitches('drop'), [60]);
});

test('a kit comes to the house map; channel, program and name are said', () => {
  const drums = barOf([[0, 10, 35], [480, 10, 38]], { role: 'drums' }); // prettier-ignore
  const { clip } = applyRecipe(drums, {
    version: 1,
    steps: [
      { step: 'drums', pairs: [[35, 36]] },
      { step: 'channel', channel: 10 },
      { step: 'name', pattern: '{role}, {bars} bar at {tempo}' },
    ],
  });
  assert.deepEqual(clip.notes.map(({ pitch }) => pitch), [36, 38]); // prettier-ignore
  assert.equal(clip.channel, 9);
  assert.equal(clip.name, 'drums, 1 bar at 120');
});

test('what a recipe does otherwise is told in words, however its fields are ordered', () => {
  const usual = houseRecipe('lead', null, 'major');
  const own = parseRecipe({
    version: 1,
    steps: [
      ...usual.steps.map((step) => (step.step === 'quantize' ? { ...step, strength: 1 } : step)),
      { step: 'shift', ms: 12 },
    ],
  });
  assert.equal(unlikeInWords(own, usual), 'quantized to 1/16 at 100 %, played 12 ms late');
  assert.ok(sameSteps([{ step: 'shift', ms: 1 } as never], [{ ms: 1, step: 'shift' } as never]));
});
