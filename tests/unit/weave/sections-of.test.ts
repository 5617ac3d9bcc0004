import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { basename } from 'node:path';
import { test } from 'node:test';
import { ChartError, parseChart } from '../../../src/core/music/chart.ts';
import { formOfTake, sectionsTyped } from '../../../src/core/weave/sections-of.ts';
import { ROLES } from '../../../src/core/split/roles.ts';
import { readTakes } from '../../../src/core/capture/take.ts';
import { analyzeTake } from '../../../src/core/analyze/analysis.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import { openmsxFiles, withoutOpenmsx } from '../../support/openmsx.ts';

const takeOf = (file: string) => readTakes(readFileSync(file))[0]!;

test('sections are typed by their names, or as a chart with its form, each with its own bars and chords', () => {
  assert.deepEqual(
    sectionsTyped('A A B A', 4).map(({ name, bars, changes }) => [name, bars, changes]),
    ['A', 'A', 'B', 'A'].map((name) => [name, 8, '']),
  );
  const typed = sectionsTyped('verse: Dm | Gm A7; refrain: |: F | C :|; form: verse refrain verse', 4);
  assert.deepEqual(
    typed.map(({ name, bars, changes }) => [name, bars, changes]),
    [
      ['verse', 2, 'Dm | Gm A7'],
      ['refrain', 4, 'F | C | F | C'],
      ['verse', 2, 'Dm | Gm A7'],
    ],
  );
  assert.equal(new Set(typed.map(({ id }) => id)).size, 3);
  // A chart without sections is one.
  assert.deepEqual(
    sectionsTyped('Dm | A7', 4).map(({ name, bars }) => [name, bars]),
    [['A', 2]],
  );
  assert.throws(() => sectionsTyped('A: Dm | Hx', 4), ChartError);
});

test(
  'real files: their sections follow each other without a gap, every chord line can be read and lasts as long',
  { skip: withoutOpenmsx },
  () => {
    for (const file of openmsxFiles.slice(0, 6)) {
      const [name, take] = [basename(file), takeOf(file)];
      const split = splitTake(take);
      const { sections, chords, keys, bars } = analyzeTake(take, split);
      const form = formOfTake(take, split, { sections, chords, key: keys[0] ?? null, bars, chart: '' });
      assert.ok(form.sections.length > 0, name);
      let meter = form.meter;
      form.sections.forEach(({ section, startBar, parts }, k) => {
        const next = form.sections[k + 1];
        if (next) assert.equal(startBar + section.bars, next.startBar, name);
        meter = section.meter ?? meter;
        if (section.changes)
          assert.equal(
            parseChart(section.changes, meter.numerator).length,
            section.bars,
            `${name} ${section.name}`,
          );
        for (const id of parts)
          assert.ok(form.parts.some((part) => part.id === id && ROLES.includes(part.role)));
      });
      // Every part that plays stands in some section.
      assert.deepEqual(
        form.parts.filter(({ id }) => !form.sections.some(({ parts }) => parts.includes(id))),
        [],
        name,
      );
    }
  },
);

test(
  'the section names of the chart that was asked for are used where it lasts as long as the take',
  { skip: withoutOpenmsx },
  () => {
    const take = takeOf(openmsxFiles[0]!);
    const split = splitTake(take);
    const { sections, chords, keys, bars } = analyzeTake(take, split);
    const known = { sections, chords, key: keys[0] ?? null, bars };
    const half = Math.floor(bars / 2);
    const line = (count: number) => Array.from({ length: count }, () => 'C').join(' | ');
    const chart = `quay: ${line(half)}; crossing: ${line(bars - half)}`;
    const named = formOfTake(take, split, { ...known, chart });
    assert.deepEqual(
      named.sections.map(({ section, startBar }) => [section.name, section.bars, startBar]),
      [
        ['quay', half, 1],
        ['crossing', bars - half, half + 1],
      ],
    );
    const other = formOfTake(take, split, { ...known, chart: `quay: ${line(half)}` });
    assert.ok(!other.sections.some(({ section }) => section.name === 'quay'));
  },
);
