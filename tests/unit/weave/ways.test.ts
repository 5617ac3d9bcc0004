import assert from 'node:assert/strict';
import { test } from 'node:test';
import { clashesBetween } from '../../../src/core/clash/clashes.ts';
import { cutTo } from '../../../src/core/exchange/weave-files.ts';
import { parseKey } from '../../../src/core/music/key.ts';
import type { WovenPhrase } from '../../../src/core/weave/cell.ts';
import { layWeave } from '../../../src/core/weave/lay.ts';
import { columnClashes, remarkWays } from '../../../src/core/weave/ways.ts';
import { cellAt, newCell, newSection, octaveOf, type Weave } from '../../../src/core/weave/weave.ts';
import type { Role } from '../../../src/core/split/roles.ts';
import { barOf } from '../../support/clips.ts';

const held = (pitches: readonly number[], role: Role): WovenPhrase => ({
  clip: {
    ...barOf(
      pitches.map((pitch) => [0, 1900, pitch] as [number, number, number]),
      { role },
    ),
    key: parseKey('C')!,
  },
  from: 'C',
});

/** C major in the keys, and a tune that holds D sharp against its E: minor and major third at once. */
const phrases = new Map([
  ['chords', held([60, 64, 67], 'keys')],
  ['tune', held([75], 'lead')],
  ['aside', { ...held([67], 'lead'), isAside: true }],
]);
const part = (id: string, role: Role) => ({ id, name: id, role, program: null, level: 1, pan: null });
const weave: Weave = {
  ...{ title: 'x', bpm: 100, meter: { numerator: 4, denominator: 4 }, key: 'C' },
  sections: [newSection('s1', 'A', 4)],
  parts: [part('keys', 'keys'), part('tune', 'lead')],
  cells: [newCell('s1', 'keys', 'chords'), newCell('s1', 'tune', 'tune')],
  ...{ ending: 'none', endingBars: 2, refused: [] },
};

function clashesOf(of: Weave) {
  const laid = layWeave(of, phrases);
  const parts = cutTo(laid, laid.sections[0]!).parts.filter(({ clip }) => clip.notes.length > 0);
  const clashes = clashesBetween(parts.map(({ part: { name }, clip }) => ({ name, clip })));
  return columnClashes(of, 's1', { clashes, parts: parts.map((one) => one.part) });
}

test('a clash of four bars is told once, with how often it sounds, and each way ends or moves it', () => {
  const [worst, ...rest] = clashesOf(weave);
  assert.match(worst!.text, /minor and major third at once in (keys and tune|tune and keys)/);
  assert.equal(worst!.times, 4);
  assert.equal(rest.filter(({ text }) => text === worst!.text).length, 0);
  const names = worst!.ways.map(({ text }) => text);
  assert.ok(names.includes('tune silent here') && names.includes('keys an octave up'), names.join());
  const silent = worst!.ways.find(({ text }) => text === 'tune silent here')!.apply(weave);
  assert.equal(cellAt(silent, 's1', 'tune')!.muted, true);
  assert.deepEqual(clashesOf(silent), []);
  const up = worst!.ways.find(({ text }) => text === 'tune an octave up')!.apply(weave);
  assert.equal(octaveOf(cellAt(up, 's1', 'tune')!), 1);
});

test('what was said to be meant is not told again', () => {
  const [worst] = clashesOf(weave);
  const after = clashesOf({ ...weave, refused: [worst!.id] });
  assert.ok(!after.some(({ id }) => id === worst!.id));
});

test('every remark but a cut has a way out that ends it', () => {
  const cells = weave.cells;
  const missing = { ...weave, cells: [...cells.slice(0, 1), newCell('s1', 'tune', 'nothing')] };
  const unread = { ...weave, sections: [{ ...weave.sections[0]!, changes: 'Hx' }] };
  const waltz = { ...weave, meter: { numerator: 3, denominator: 4 } };
  const aside = { ...weave, cells: [...cells.slice(0, 1), newCell('s1', 'tune', 'aside')] };
  for (const [of, code] of [
    [missing, 'missing'],
    [aside, 'aside'],
    [unread, 'chords'],
    [waltz, 'meter'],
  ] as const) {
    const told = layWeave(of, phrases).remarks.filter((remark) => remark.code === code);
    assert.ok(told.length > 0, code);
    for (const remark of told) {
      const ways = remarkWays(remark);
      assert.ok(ways.length > 0, code);
      for (const way of ways) {
        const left = layWeave(way.apply(of), phrases).remarks;
        const again = left.some((one) => one.code === code && one.part === remark.part);
        assert.ok(!again, `${code}: ${way.text}`);
      }
    }
  }
});
