import assert from 'node:assert/strict';
import { test } from 'node:test';
import {
  placesOf,
  withCellsOf,
  withCopy,
  withForm,
  withPhraseInPart,
  withPhrasesIn,
} from '../../../src/core/weave/edit.ts';
import { sectionsTyped } from '../../../src/core/weave/sections-of.ts';
import { cellAt, newCell, newSection, type Weave } from '../../../src/core/weave/weave.ts';
import type { Role } from '../../../src/core/split/roles.ts';

const part = (id: string, role: Role) => ({ id, name: id, role, program: null, level: 1, pan: null });

const weave: Weave = {
  ...{ title: 'x', bpm: 100, meter: { numerator: 4, denominator: 4 }, key: 'C' },
  sections: [newSection('s1', 'A'), newSection('s2', 'B'), newSection('s3', 'A')],
  parts: [part('kit', 'drums'), part('keys', 'keys')],
  cells: [
    newCell('s1', 'kit', 'groove'),
    { ...newCell('s3', 'kit', 'groove'), fill: 'fill' },
    newCell('s2', 'keys', 'pad'),
  ],
  ...{ ending: 'none', endingBars: 2, refused: [] },
};

const phraseAt = (from: Weave, section: string, on: string) => cellAt(from, section, on)?.phrase;

test('a sheaf falls in whole: each phrase into the first part of its role that is empty there, else into a part more', () => {
  const fallen = withPhrasesIn(weave, 's2', [
    { id: 'a', name: 'A', role: 'drums' },
    { id: 'b', name: 'B', role: 'keys' },
    { id: 'c', name: 'C', role: 'bass' },
    { id: 'd', name: 'D', role: 'bass' },
  ]);
  assert.equal(phraseAt(fallen, 's2', 'kit'), 'a');
  // The keys play there already: a second part of keys comes.
  assert.equal(phraseAt(fallen, 's2', 'keys'), 'pad');
  assert.deepEqual(
    fallen.parts.slice(2).map(({ name, role, id }) => [name, role, phraseAt(fallen, 's2', id)]),
    [
      ['keys 2', 'keys', 'b'],
      ['bass', 'bass', 'c'],
      ['bass 2', 'bass', 'd'],
    ],
  );
  assert.equal(new Set(fallen.parts.map(({ id }) => id)).size, 5);
});

test('a change in one place leaves the others; everywhere, all cells of the phrase have it', () => {
  assert.equal(placesOf(weave, 'groove'), 2);
  const all = withCellsOf(weave, 'groove', { muted: true });
  assert.deepEqual(
    all.cells.map(({ muted }) => muted),
    [true, true, false],
  );
  const own = withCopy(weave, 's3', 'kit', 'copy');
  assert.equal(placesOf(own, 'groove'), 1);
  // What was done to the cell stays with its copy.
  assert.equal(cellAt(own, 's3', 'kit')!.fill, 'fill');
});

test('a phrase all along a part takes the place of what it plays; where it plays nothing it comes into every section', () => {
  const groove = withPhraseInPart(weave, 'kit', 'other');
  assert.deepEqual(
    ['s1', 's2', 's3'].map((section) => phraseAt(groove, section, 'kit')),
    ['other', undefined, 'other'],
  );
  const fresh = withPhraseInPart({ ...weave, parts: [...weave.parts, part('bass', 'bass')] }, 'bass', 'low');
  assert.equal(placesOf(fresh, 'low'), 3);
});

test('another form keeps what stands in sections of the same name, and begins new ones like them', () => {
  const longer = withForm(weave, { sections: sectionsTyped('A A A C', 4), isChart: false });
  assert.deepEqual(
    longer.sections.map(({ id, name }) => [name, phraseAt(longer, id, 'kit') ?? null]),
    [
      ['A', 'groove'],
      ['A', 'groove'],
      ['A', 'groove'],
      ['C', null],
    ],
  );
  assert.equal(new Set(longer.sections.map(({ id }) => id)).size, 4);
});
