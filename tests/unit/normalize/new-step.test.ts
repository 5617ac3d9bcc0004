import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { HOUSE, houseRecipe } from '../../../src/core/normalize/house.ts';
import { newStep, withNewStep } from '../../../src/core/normalize/new-step.ts';
import { orderProblem } from '../../../src/core/normalize/order.ts';
import { parseRecipe } from '../../../src/core/normalize/parse.ts';
import { STEP_NAMES, type RecipeStep } from '../../../src/core/normalize/recipe.ts';
import { ROLES } from '../../../src/core/split/roles.ts';

/** Steps that are added stand where order wants them, with the values of the role. */

const made = (name: RecipeStep['step'], role: (typeof ROLES)[number] = 'keys') =>
  newStep(name, role, 'minor', HOUSE);

test('every step of every role is one that a recipe can have', () => {
  for (const role of ROLES)
    for (const name of STEP_NAMES) {
      const step = made(name, role);
      assert.equal(step.step, name);
      assert.doesNotThrow(() => parseRecipe({ version: 1, steps: [step] }), `${name} for ${role}`);
    }
});

test('a step has the values that the house has for the role', () => {
  const own = houseRecipe('bass', null, 'minor', {
    ...HOUSE,
    shiftBeside: false,
    velocityBeside: false,
  }).steps;
  for (const step of own) if (step.step !== 'name') assert.deepEqual(made(step.step, 'bass'), step);
  assert.notDeepEqual(made('register', 'bass'), made('register', 'keys'));
});

test('whatever is added to a recipe in order leaves it in order, whichever way it grew', () => {
  fc.assert(
    fc.property(fc.shuffledSubarray(STEP_NAMES.filter((name) => name !== 'edit')), (names) => {
      const steps = names.reduce<RecipeStep[]>((before, name) => withNewStep(before, made(name)), []);
      assert.equal(orderProblem(steps), null, steps.map(({ step }) => step).join(' '));
      assert.equal(steps.length, names.length);
    }),
    { numRuns: 200 },
  );
});

test('what stands there is not moved by what is added', () => {
  const before = houseRecipe('keys', { start: 1, count: 4 }, 'minor', HOUSE).steps;
  for (const name of STEP_NAMES) {
    const after = withNewStep(before, made(name));
    const at = after.findIndex((step) => !before.includes(step));
    assert.deepEqual(after.toSpliced(at, 1), before, name);
  }
});
