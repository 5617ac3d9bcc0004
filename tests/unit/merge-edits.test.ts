import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { mergedFields, mergedList } from '../../src/core/merge/three-way.ts';
import { mergedPhraseEdits, type PhraseEdit } from '../../src/core/merge/phrase-edits.ts';

/** What two people made of one thing, put together. */

const edit: PhraseEdit = {
  name: 'Ferry bass',
  role: 'bass',
  projectId: null,
  fitting: {},
  rights: '',
  takeKey: { tonic: 2, mode: 'minor' },
  tags: ['dusk', 'verse'],
  recipe: {
    version: 1,
    steps: [
      { step: 'bars', start: 1, count: 4 },
      { step: 'quantize', grid: '1/16', strength: 1 },
    ],
  },
};

test('a phrase: one changes its name and a step, the other its tags and another step; both stand', () => {
  const mine: PhraseEdit = { ...edit, name: 'Low ferry', recipe: { ...edit.recipe, steps: [edit.recipe.steps[0]!, { step: 'quantize', grid: '1/8', strength: 1 } as never] } }; // prettier-ignore
  const theirs: PhraseEdit = { ...edit, tags: ['verse', 'river'], recipe: { ...edit.recipe, steps: [{ ...edit.recipe.steps[0]!, count: 2 } as never, edit.recipe.steps[1]!, { step: 'octave', by: 1 } as never] } }; // prettier-ignore
  const { value, both } = mergedPhraseEdits(edit, mine, theirs);
  assert.equal(both, null);
  assert.equal(value!.name, 'Low ferry');
  assert.deepEqual(value!.tags, ['verse', 'river']);
  assert.deepEqual(
    value!.recipe.steps,
    [{ step: 'bars', start: 1, count: 2 }, { step: 'quantize', grid: '1/8', strength: 1 }, { step: 'octave', by: 1 }], // prettier-ignore
  );
});

test('what both changed in another way is told by its place; what both changed alike is no quarrel', () => {
  assert.deepEqual(mergedPhraseEdits(edit, { ...edit, name: 'a' }, { ...edit, name: 'b' }).both, ['name']);
  assert.equal(mergedPhraseEdits(edit, { ...edit, name: 'a' }, { ...edit, name: 'a' }).value!.name, 'a');
  const house = { grid: '1/16', roles: { bass: { loud: 0.8, range: 1 }, keys: { loud: 0.8, range: 1 } } };
  const loud = (role: 'bass' | 'keys', value: number) => ({ ...house, roles: { ...house.roles, [role]: { ...house.roles[role], loud: value } } }); // prettier-ignore
  assert.deepEqual(mergedFields(house, loud('bass', 0.5), loud('keys', 0.6)).value!.roles, { bass: { loud: 0.5, range: 1 }, keys: { loud: 0.6, range: 1 } }); // prettier-ignore
  assert.deepEqual(mergedFields(house, loud('bass', 0.5), loud('bass', 0.6)).both, ['roles.bass.loud']);
});

test('merging: nothing changed is theirs, theirs unchanged is mine, and the order of the two does not matter', () => {
  const one = fc.nat(2);
  const value = fc.tuple(one, one, one, fc.boolean()).map(([a, c, d, none]) => ({ a, b: { c, d }, e: none ? null : a })); // prettier-ignore
  fc.assert(
    fc.property(value, value, value, (base, mine, theirs) => {
      assert.deepEqual(mergedFields(base, base, theirs).value, theirs);
      assert.deepEqual(mergedFields(base, mine, base).value, mine);
      assert.deepEqual(mergedFields(base, mine, theirs), mergedFields(base, theirs, mine));
    }),
  );
});

test('a list: what one put in and the other took out are both so, whoever comes first', () => {
  const ids = fc.uniqueArray(fc.constantFrom(...'abcdefgh'), { maxLength: 8 });
  fc.assert(
    fc.property(ids, ids, ids, (base, mine, theirs) => {
      const setting = { keyOf: (id: string) => id, tell: () => assert.fail('an id is itself'), order: null };
      const merged = mergedList(base, mine, theirs, setting);
      const wanted = [...'abcdefgh'].filter((id) => (base.includes(id) ? mine.includes(id) && theirs.includes(id) : mine.includes(id) || theirs.includes(id))); // prettier-ignore
      assert.deepEqual(merged.toSorted(), wanted);
    }),
  );
});
