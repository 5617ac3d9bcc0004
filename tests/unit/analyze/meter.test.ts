import assert from 'node:assert/strict';
import { test } from 'node:test';
import { findMeter } from '../../../src/core/analyze/meter.ts';
import { META, metaEvent } from '../../../src/core/midi/smf.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import { takeOf, trackOf, type NoteSpec } from '../../support/midi.ts';

/** A meter that a file does not give is questioned only where what plays speaks against four quarters. */

const Q = 480;
const meterOf = (notes: readonly NoteSpec[], extra = [] as Parameters<typeof trackOf>[1]) => {
  const take = takeOf([trackOf(notes, extra)]);
  const found = findMeter(take, splitTake(take));
  return found && `${found.numerator}/${found.denominator}`;
};

/** Drum patterns by bar, as drummers count them (common practice): place in quarters, key of General MIDI. */
const PATTERNS = {
  waltz: {
    quarters: 3,
    strokes: [
      [0, 36],
      [1, 38],
      [2, 38],
      [0, 42],
      [1, 42],
      [2, 42],
    ],
  },
  sixEights: {
    quarters: 3,
    strokes: [
      [0, 36],
      [0, 42],
      [0.5, 42],
      [1, 42],
      [1.5, 38],
      [1.5, 42],
      [2, 42],
      [2.5, 42],
    ],
  },
  rock: {
    quarters: 4,
    strokes: [
      [0, 36],
      [1, 38],
      [2, 36],
      [2.5, 36],
      [3, 38],
      [0, 42],
      [1, 42],
      [2, 42],
      [3, 42],
    ],
  },
  takeFive: {
    quarters: 5,
    strokes: [
      [0, 36],
      [1, 42],
      [2, 38],
      [3, 36],
      [4, 38],
      [1.5, 42],
    ],
  },
  sevenEights: {
    quarters: 3.5,
    strokes: [
      [0, 36],
      [1, 38],
      [2, 36],
      [2.5, 38],
      [3, 42],
    ],
  },
} as const;

const drums = (name: keyof typeof PATTERNS, quarters: number): NoteSpec[] => {
  const { quarters: bar, strokes } = PATTERNS[name];
  return Array.from({ length: Math.floor(quarters / bar) }, (_, i) =>
    strokes.map(([at, key]): NoteSpec => [Math.round((i * bar + at) * Q), 60, key, 90, 9]),
  ).flat();
};

for (const [name, meter] of [
  ['waltz', '3/4'],
  ['sixEights', '6/8'],
  ['rock', null],
  ['takeFive', '5/4'],
  ['sevenEights', '7/8'],
] as const)
  test(`${name}: ${meter ?? 'four quarters stand'}`, () => {
    assert.equal(meterOf(drums(name, 96)), meter);
  });

test('what a file says itself is not questioned, and a few beats tell nothing', () => {
  const said = metaEvent(0, META.meter, Uint8Array.of(4, 2, 24, 8));
  assert.equal(meterOf(drums('waltz', 96), [said]), null);
  assert.equal(meterOf(drums('waltz', 9)), null);
  assert.equal(meterOf([[0, 480, 60]]), null);
});

test('fills do not change the meter: a waltz whose every fourth bar is another is a waltz', () => {
  const notes = drums('waltz', 96).map(([tick, length, key, velocity, channel]): NoteSpec => {
    const isFill = Math.floor(tick / (3 * Q)) % 4 === 3 && key === 38;
    return [tick + (isFill ? 120 : 0), length, isFill ? 47 : key, velocity, channel];
  });
  assert.equal(meterOf(notes), '3/4');
});

test('without drums the harmony and the bass tell it: oom-pah-pah', () => {
  const notes = Array.from({ length: 24 }, (_, bar): NoteSpec[] => [
    [bar * 3 * Q, 400, 36 + (bar % 4) * 2, 100],
    [(bar * 3 + 1) * Q, 200, 60, 70],
    [(bar * 3 + 1) * Q, 200, 64, 70],
    [(bar * 3 + 2) * Q, 200, 60, 70],
    [(bar * 3 + 2) * Q, 200, 64, 70],
  ]).flat();
  assert.equal(meterOf(notes), '3/4');
});
