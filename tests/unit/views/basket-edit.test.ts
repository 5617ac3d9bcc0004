import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { KITS_OUT, OUT } from '../../../src/core/exchange/out-options.ts';
import { KEY_CHOICES } from '../../../src/core/reuse/in-project.ts';
import { changesOf, rebased, type BasketEdit } from '../../../src/views/basket/edit.ts';

const anyEdit: fc.Arbitrary<BasketEdit> = fc.record(
  {
    ids: fc.uniqueArray(fc.constantFrom('a', 'b', 'c', 'd', 'e')),
    name: fc.constantFrom('Ferry', 'Goose'),
    pattern: fc.constantFrom('{name}', '{number} {name}'),
    projectId: fc.constantFrom(null, 'p'),
    recipientId: fc.constantFrom(null, 'r'),
    out: fc
      .record({ key: fc.constantFrom(...KEY_CHOICES), kit: fc.constantFrom(...KITS_OUT) })
      .map((some) => ({ ...OUT, ...some })),
    layout: fc.constantFrom('folders' as const, 'flat' as const),
    previews: fc.boolean(),
    previewSums: fc.boolean(),
    previewBeds: fc.boolean(),
    mirror: fc.constantFrom(null, 'ferry'),
  },
  { noNullPrototype: true },
);

test('a basket opened before its phrases had come keeps them when only the pattern is changed', () => {
  const empty = {
    ids: [],
    name: 'Five',
    pattern: '{name}',
    projectId: null,
    recipientId: null,
    out: OUT,
    layout: 'folders' as const,
    previews: false,
    previewSums: false,
    previewBeds: false,
    mirror: null,
  };
  const ours = { ...empty, pattern: '{number} {name}' };
  assert.deepEqual(changesOf(empty, ours), { pattern: '{number} {name}' });
  const theirs = { ...empty, ids: ['a', 'b'] };
  assert.deepEqual(rebased(empty, ours, theirs), { ...theirs, pattern: '{number} {name}' });
});

test('without changes of ours all is theirs, without changes of theirs all is ours', () => {
  fc.assert(
    fc.property(anyEdit, anyEdit, (base, other) => {
      assert.deepEqual(rebased(base, base, other), other);
      assert.deepEqual(rebased(base, other, base), other);
    }),
  );
});

test('what either took out is out, what either added is in, and nothing is there twice', () => {
  fc.assert(
    fc.property(anyEdit, anyEdit, anyEdit, (base, ours, theirs) => {
      const { ids } = rebased(base, ours, theirs);
      assert.equal(new Set(ids).size, ids.length);
      for (const id of ['a', 'b', 'c', 'd', 'e']) {
        const [was, mine, other] = [base, ours, theirs].map((edit) => edit.ids.includes(id));
        assert.equal(ids.includes(id), was ? mine && other : mine || other, id);
      }
    }),
  );
});
