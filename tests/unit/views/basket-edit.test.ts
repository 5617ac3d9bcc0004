import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { KITS_OUT, OUT } from '../../../src/core/exchange/out-options.ts';
import { KEY_CHOICES } from '../../../src/core/reuse/in-project.ts';
import {
  broughtIn,
  changesOf,
  moved,
  rebased,
  withHeading,
  withOwn,
  type BasketEdit,
  type BasketRow,
} from '../../../src/views/basket/edit.ts';

/** Five phrases at the most, and headings between them. */
const anyRows: fc.Arbitrary<BasketRow[]> = fc
  .uniqueArray(fc.constantFrom('a', 'b', 'c', 'd', 'e', 'heading 1', 'heading 2'))
  .map((ids) => ids.map((id) => (id.startsWith('h') ? { id, heading: id } : { id })));

const anyEdit: fc.Arbitrary<BasketEdit> = fc.record(
  {
    rows: anyRows,
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
    rows: [],
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
  const theirs = { ...empty, rows: [{ id: 'a' }, { id: 'b' }] };
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
      const idsOf = (edit: BasketEdit) => edit.rows.map(({ id }) => id);
      const ids = idsOf(rebased(base, ours, theirs));
      assert.equal(new Set(ids).size, ids.length);
      for (const id of ['a', 'b', 'c', 'd', 'e']) {
        const [was, mine, other] = [base, ours, theirs].map((edit) => idsOf(edit).includes(id));
        assert.equal(ids.includes(id), was ? mine && other : mine || other, id);
      }
    }),
  );
});

const ids = (rows: readonly BasketRow[]) => rows.map(({ id }) => id);
const rowsOf = (text: string): BasketRow[] =>
  [...text].map((id) => (id === id.toUpperCase() ? { id, heading: id } : { id }));

test('several rows go up and down together, keep their order, and stop at the edge', () => {
  const rows = rowsOf('Aabcd');
  assert.equal(ids(moved(rows, new Set(['b', 'c']), -1)).join(''), 'Abcad');
  assert.equal(ids(moved(rows, new Set(['b', 'd']), 1)).join(''), 'Aacbd');
  assert.equal(ids(moved(rows, new Set(['A', 'a']), -1)).join(''), 'Aabcd');
  fc.assert(
    fc.property(anyRows, fc.uniqueArray(fc.constantFrom('a', 'b', 'heading 1')), (all, some) => {
      const chosen = new Set<string>(some);
      const up = moved(all, chosen, -1);
      assert.deepEqual(new Set(ids(up)), new Set(ids(all)));
      assert.deepEqual(
        ids(up.filter(({ id }) => chosen.has(id))),
        ids(all.filter(({ id }) => chosen.has(id))),
      );
      const stuck = all.length > 0 && chosen.has(all[0]!.id);
      if (!stuck) assert.deepEqual(moved(up, chosen, 1), all);
    }),
  );
});

test('a heading stands above a phrase or at the end; a way of its own is said of phrases alone, and unsaid leaves nothing', () => {
  const heading = { id: 'B', heading: 'Bridge' };
  assert.equal(ids(withHeading(rowsOf('Aab'), heading, 'b')).join(''), 'AaBb');
  assert.equal(ids(withHeading(rowsOf('Aab'), heading, undefined)).join(''), 'AabB');
  const rows = withOwn(rowsOf('Aab'), new Set(['A', 'a']), { bpm: 90, key: undefined });
  assert.deepEqual(rows, [{ id: 'A', heading: 'A' }, { id: 'a', own: { bpm: 90 } }, { id: 'b' }]);
  assert.deepEqual(withOwn(rows, new Set(['a']), {}), rowsOf('Aab'));
});

test('what is brought from another basket stands in its order there, under its headings and in its own way where these come along', () => {
  const laidOut = withOwn(rowsOf('aBbcDd'), new Set(['c']), { fitting: 'plain' });
  const said = (along: { headings: boolean; own: boolean }) =>
    broughtIn(['d', 'c', 'b', 'x'], laidOut, along).map(({ id, heading, own }) => heading ?? (own ? `${id}!` : id)); // prettier-ignore
  assert.deepEqual(said({ headings: true, own: true }), ['B', 'b', 'c!', 'D', 'd', 'x']);
  assert.deepEqual(said({ headings: false, own: false }), ['b', 'c', 'd', 'x']);
});
