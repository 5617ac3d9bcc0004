import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { mergedWeave } from '../../../src/core/weave/merge.ts';
import { newCell, newSection, type Weave } from '../../../src/core/weave/weave.ts';

const base: Weave = {
  ...{ title: 'Crossing', bpm: 100, meter: { numerator: 4, denominator: 4 }, key: 'C' },
  sections: [newSection('a', 'A'), newSection('b', 'B')],
  parts: ['kit', 'keys'].map((id) => ({
    ...{ id, name: id, role: 'keys' as const, program: null, level: 1, pan: null },
  })),
  cells: [newCell('a', 'kit', 'one'), newCell('b', 'keys', 'two')],
  ...{ ending: 'none', endingBars: 2, refused: [] },
};
const withCells = (change: (cells: Weave['cells']) => Weave['cells']): Weave => ({
  ...base,
  cells: change(base.cells),
});

test('two windows that touch different cells are merged; what both changed otherwise is told by its place', () => {
  const mine = withCells((cells) => cells.with(0, { ...cells[0]!, muted: true }));
  const theirs = withCells((cells) => [
    ...cells.with(1, { ...cells[1]!, crash: true }),
    newCell('a', 'keys', 'three'),
  ]);
  const { value: weave } = mergedWeave(base, mine, theirs);
  assert.deepEqual(
    weave!.cells.map(({ section, part, muted, crash }) => [section, part, muted, crash]),
    [
      ['a', 'kit', true, false],
      ['b', 'keys', false, true],
      ['a', 'keys', false, false],
    ],
  );
  const other = withCells((cells) => cells.with(0, { ...cells[0]!, phrase: 'four' }));
  assert.deepEqual(mergedWeave(base, mine, other), { value: null, both: ['kit in "A"'] });
});

test('a section that one took out and the other changed is told; one that only one took out is gone', () => {
  const gone = { ...base, sections: base.sections.slice(0, 1) };
  const longer = { ...base, sections: base.sections.with(1, { ...base.sections[1]!, bars: 16 }) };
  assert.equal(mergedWeave(base, gone, { ...base, bpm: 90 }).value!.sections.length, 1);
  assert.deepEqual(mergedWeave(base, gone, longer).both, ['the section "B"']);
});

test('both add a section: both are there; both move them otherwise: told', () => {
  const added = (id: string) => ({ ...base, sections: [...base.sections, newSection(id, id)] });
  assert.deepEqual(
    mergedWeave(base, added('c'), added('d'))
      .value!.sections.map(({ id }) => id)
      .sort(),
    ['a', 'b', 'c', 'd'],
  );
  const turned = { ...base, sections: [...base.sections].reverse() };
  assert.deepEqual(
    mergedWeave(base, turned, added('c')).value?.sections.map(({ id }) => id) ??
      mergedWeave(base, turned, added('c')).both,
    ['the order of the sections'],
  );
  assert.deepEqual(
    mergedWeave(base, turned, { ...base, bpm: 90 }).value!.sections.map(({ id }) => id),
    ['b', 'a'],
  );
});

test('merging with what did not change gives what did', () => {
  const bars = fc.integer({ min: 1, max: 16 });
  const changed = fc
    .record({ bars, bpm: bars, mute: fc.boolean(), drop: fc.boolean() })
    .map(({ bars: many, bpm, mute, drop }): Weave => ({
      ...base,
      bpm: 90 + bpm,
      sections: base.sections.with(0, { ...base.sections[0]!, bars: many }),
      cells: drop ? base.cells.slice(1) : base.cells.with(0, { ...base.cells[0]!, muted: mute }),
    }));
  fc.assert(
    fc.property(changed, (mine) => {
      assert.deepEqual(mergedWeave(base, mine, base).value, mine);
      assert.deepEqual(mergedWeave(base, base, mine).value, mine);
      assert.deepEqual(mergedWeave(base, mine, mine).value, mine);
    }),
  );
});

test('two windows that refuse other proposals: both stay refused', () => {
  const refusing = (id: string): Weave => ({ ...base, refused: [id] });
  assert.deepEqual(mergedWeave(base, refusing('ending'), refusing('crash b kit')).value!.refused.toSorted(), [
    'crash b kit',
    'ending',
  ]);
});
