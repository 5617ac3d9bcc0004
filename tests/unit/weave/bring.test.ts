import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { broughtIn, type Along } from '../../../src/core/weave/bring.ts';
import { cellAt, newCell, newSection, problemOfWeave, type Weave } from '../../../src/core/weave/weave.ts';

const part = (id: string, name: string, level = 1) => ({ ...{ id, name, role: 'keys' as const }, program: 40, level, pan: 30 }); // prettier-ignore

const here: Weave = {
  ...{ title: 'Here', bpm: 100, meter: { numerator: 4, denominator: 4 }, key: 'C' },
  sections: [newSection('s1', 'verse'), newSection('s2', 'refrain'), newSection('s3', 'verse')],
  parts: [part('p1', 'organ')],
  cells: [newCell('s1', 'p1', 'one')],
  ...{ ending: 'none', endingBars: 2, refused: [] },
};

const there: Weave = {
  ...here,
  title: 'There',
  sections: [newSection('s1', 'intro'), newSection('s2', 'verse'), newSection('s3', 'verse'), newSection('s4', 'verse')], // prettier-ignore
  parts: [part('p1', 'organ', 0.5), part('p2', 'bells', 0.8)],
  cells: [
    newCell('s1', 'p1', 'a'),
    newCell('s2', 'p1', 'b'),
    newCell('s3', 'p1', 'c'),
    newCell('s4', 'p2', 'd'),
  ],
};

const ALL: Along = { sound: true, level: true, cells: true, sections: true };

test('a part comes with its sound, its level and its cells in the sections that are called alike, the first to the first', () => {
  const weave = broughtIn(here, there, ['p1'], { ...ALL, sections: false });
  const brought = weave.parts.at(-1)!;
  assert.deepEqual([brought.name, brought.program, brought.level, brought.pan], ['organ 2', 40, 0.5, 30]);
  assert.deepEqual(weave.sections, here.sections);
  assert.equal(cellAt(weave, 's1', brought.id)!.phrase, 'b');
  assert.equal(cellAt(weave, 's3', brought.id)!.phrase, 'c');
  assert.equal(cellAt(weave, 's2', brought.id), undefined);
});

test('what is not wanted stays there; sections that are not here come at the end', () => {
  const bare = broughtIn(here, there, ['p2'], { sound: false, level: false, cells: false, sections: true });
  assert.deepEqual(bare.parts.at(-1), { id: 'p2', name: 'bells', role: 'keys', program: null, level: 1, pan: null }); // prettier-ignore
  assert.deepEqual([bare.cells, bare.sections], [here.cells, here.sections]);
  const whole = broughtIn(here, there, ['p1', 'p2'], ALL);
  assert.deepEqual(whole.sections.map(({ name }) => name), ['verse', 'refrain', 'verse', 'intro', 'verse']); // prettier-ignore
  assert.equal(cellAt(whole, whole.sections.at(-1)!.id, whole.parts.at(-1)!.id)!.phrase, 'd');
});

test('whatever is brought, what stood here stands, ids are one each, and the weave can be laid', () => {
  const along = fc.record({
    sound: fc.boolean(),
    level: fc.boolean(),
    cells: fc.boolean(),
    sections: fc.boolean(),
  });
  const ids = fc.subarray(['p1', 'p2']);
  fc.assert(
    fc.property(fc.array(fc.tuple(ids, along), { maxLength: 4 }), (all) => {
      const weave = all.reduce((now, [parts, how]) => broughtIn(now, there, parts, how), here);
      for (const cell of here.cells) assert.ok(weave.cells.includes(cell));
      for (const list of [weave.parts, weave.sections])
        assert.equal(new Set(list.map(({ id }) => id)).size, list.length);
      const places = weave.cells.map(({ section, part: on }) => `${section} ${on}`);
      assert.equal(new Set(places).size, places.length);
      assert.equal(problemOfWeave(weave), null);
    }),
  );
});
