import assert from 'node:assert/strict';
import { test } from 'node:test';
import { proposalsFor, type WeavePhrase } from '../../../src/core/weave/proposals.ts';
import {
  cellAt,
  densityOf,
  newCell,
  newSection,
  sectionNames,
  type Weave,
} from '../../../src/core/weave/weave.ts';
import type { Role } from '../../../src/core/split/roles.ts';

const phrase = (id: string, role: Role, more: Partial<WeavePhrase> = {}): [string, WeavePhrase] => [
  id,
  { ...{ id, name: id, role, bars: 2, purpose: null, sheafId: null, sourceId: null }, ...more },
];

const phrases = new Map([
  phrase('groove', 'drums', { sheafId: 'ferry', sourceId: 'band' }),
  phrase('keys', 'keys'),
  phrase('low', 'bass'),
  phrase('fill of another', 'drums', { purpose: 'fill', bars: 1 }),
  phrase('fill of the source', 'drums', { purpose: 'fill', bars: 1, sourceId: 'band' }),
  phrase('fill of the sheaf', 'drums', { purpose: 'fill', bars: 1, sheafId: 'ferry' }),
]);

function weaveOf(form: string): Weave {
  const part = (id: string, role: Role) => ({ id, name: id, role, program: null, level: 1, pan: null });
  const sections = sectionNames(form).map((name, k) => newSection(`s${k}`, name));
  return {
    ...{ title: 'x', bpm: 100, meter: { numerator: 4, denominator: 4 }, key: 'C', sections },
    parts: [part('kit', 'drums'), part('keys', 'keys'), part('bass', 'bass')],
    cells: sections.flatMap(({ id }) => [
      newCell(id, 'kit', 'groove'),
      newCell(id, 'keys', 'keys'),
      newCell(id, 'bass', 'low'),
    ]),
    ...{ ending: 'none', endingBars: 2, refused: [] },
  };
}

const kinds = (weave: Weave) =>
  proposalsFor(weave, phrases).map(({ kind, section, part }) => `${kind} ${section} ${part}`);

test('never more than eight equal bars in a row without asking: a variant where the ninth begins', () => {
  assert.ok(!kinds(weaveOf('verse')).some((one) => one.startsWith('variant')));
  const twice = weaveOf('verse verse');
  const proposal = proposalsFor(twice, phrases).find(
    ({ kind, part }) => kind === 'variant' && part === 'kit',
  )!;
  assert.equal(proposal.section, 's1');
  assert.match(proposal.text, /16 equal bars/);
  const done = proposal.apply(twice);
  assert.equal(densityOf(cellAt(done, 's1', 'kit')!), 1);
  assert.equal(densityOf(cellAt(twice, 's1', 'kit')!), 0, 'the weave that was asked about stays as it is');
  assert.ok(!kinds(done).includes('variant s1 kit'));
});

test('a fill before another section, from the same sheaf, else the same source, else any; a crash on it', () => {
  const weave = weaveOf('verse verse refrain');
  const fills = proposalsFor(weave, phrases).filter(({ kind }) => kind === 'fill');
  assert.deepEqual(
    fills.map(({ section }) => section),
    ['s1'],
  );
  assert.match(fills[0]!.text, /^fill of the sheaf leads into "refrain", from the same sheaf/);
  const fewer = new Map([...phrases].filter(([id]) => id !== 'fill of the sheaf'));
  assert.match(proposalsFor(weave, fewer).find(({ kind }) => kind === 'fill')!.text, /from the same source/);
  const none = new Map([...phrases].filter(([id]) => !id.startsWith('fill')));
  assert.ok(!proposalsFor(weave, none).some(({ kind }) => kind === 'fill'));
  assert.ok(kinds(weave).includes('crash s2 kit'));
  assert.ok(cellAt(fills[0]!.apply(weave), 's1', 'kit')!.fill === 'fill of the sheaf');
});

test('energy: one thing more in the second verse, the bass out of a break, a layer more in the last refrain', () => {
  const weave = weaveOf('verse, refrain, verse, break, refrain');
  const energies = proposalsFor(weave, phrases).filter(({ kind }) => kind === 'energy');
  assert.deepEqual(
    energies.map(({ section, part }) => `${section} ${part}`),
    ['s2 keys', 's3 bass', 's4 keys'],
  );
  const layered = energies[2]!.apply(weave);
  assert.equal(layered.parts.length, 4);
  const cell = layered.cells.at(-1)!;
  assert.deepEqual([cell.section, cell.part, cell.steps], ['s4', 'keys layer', [{ step: 'octave', by: 1 }]]);
  assert.equal(cellAt(energies[1]!.apply(weave), 's3', 'bass')!.muted, true);
});

test('an ending where there is none; what was refused is not proposed again', () => {
  const weave = weaveOf('verse refrain');
  const ending = proposalsFor(weave, phrases).find(({ kind }) => kind === 'ending')!;
  assert.equal(ending.apply(weave).ending, 'ring');
  const all = proposalsFor(weave, phrases).map(({ id }) => id);
  assert.equal(new Set(all).size, all.length);
  assert.deepEqual(proposalsFor({ ...weave, refused: all }, phrases), []);
});

test('accepted together they leave nothing of the same kind to propose', () => {
  let weave = weaveOf('verse, verse, refrain, break, refrain');
  for (let round = 0; round < 6; round++)
    for (const { apply } of proposalsFor(weave, phrases)) weave = apply(weave);
  assert.deepEqual(
    proposalsFor(weave, phrases).map(({ id }) => id),
    [],
  );
});

test('a variation that belongs to the phrase comes before busier: of its sheaf, else its source, none of strangers', () => {
  const variation = (id: string, more: Partial<WeavePhrase>) =>
    phrase(id, 'drums', { purpose: 'variation', ...more });
  const proposed = (more: [string, WeavePhrase][]) =>
    proposalsFor(weaveOf('A A'), new Map([...phrases, ...more])).find(
      ({ kind, part }) => kind === 'variant' && part === 'kit',
    )!;
  const [stranger, ofSource, ofSheaf] = [
    variation('of a stranger', { sourceId: 'other' }),
    variation('of the source', { sourceId: 'band' }),
    variation('of the sheaf', { sheafId: 'ferry' }),
  ];
  assert.match(proposed([stranger]).text, /busier by one/);
  assert.match(proposed([stranger, ofSource]).text, /its variation of the source/);
  const best = proposed([stranger, ofSource, ofSheaf]);
  const weave = best.apply(weaveOf('A A'));
  assert.equal(cellAt(weave, 's1', 'kit')!.phrase, 'of the sheaf');
  assert.equal(cellAt(weave, 's0', 'kit')!.phrase, 'groove');
});
