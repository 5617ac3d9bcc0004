import assert from 'node:assert/strict';
import { test } from 'node:test';
import { takeFrom } from '../../../src/core/capture/take.ts';
import { SPLIT_METHOD, baseOf, splitOf } from '../../../src/core/split/base.ts';
import { rolesHeardAnew, splitOfToday } from '../../../src/core/split/heard-anew.ts';
import { applyMoves } from '../../../src/core/split/moves.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import { performanceFile } from '../../../src/core/standins/performance.ts';

/** A bass, and chords far above it in a track that is called "Drums". */
const chords = [
  [60, 64, 67],
  [65, 69, 72],
  [67, 71, 74],
  [60, 64, 67],
];
const note = (tick: number, length: number, pitch: number) => ({ tick, length, pitch, velocity: 90 });
const file = performanceFile({
  title: 'Two',
  bpm: 100,
  meter: { numerator: 4, denominator: 4 },
  bars: 8,
  input: null,
  parts: [
    {
      name: 'Low',
      channel: 0,
      program: 33,
      notes: Array.from({ length: 64 }, (_, i) =>
        note(i * 240, 200, (chords[(i >> 3) % 4]![i % 3]! % 12) + 36),
      ),
    },
    {
      name: 'Drums',
      channel: 1,
      program: 48,
      notes: Array.from({ length: 16 }, (_, i) =>
        chords[(i >> 1) % 4]!.map((pitch) => note(i * 960, 900, pitch)),
      ).flat(),
    },
  ],
});
const take = takeFrom(file);
const today = splitTake(take);

/** The same parts as an older method heard them. */
const base = baseOf(today);
const older = splitOf({
  ...base,
  parts: base.parts.map((part) => (part.name === 'Drums' ? { ...part, role: 'drums' as const } : part)),
});

test('what is heard otherwise today is offered, and changes nothing by itself', () => {
  assert.equal(today.parts.find(({ name }) => name === 'Drums')?.role, 'strings');
  const [offer, ...others] = rolesHeardAnew(older, splitOfToday(take, older, SPLIT_METHOD - 1), older);
  assert.equal(others.length, 0);
  assert.match(offer!.text, /"Drums" is heard as strings today/);
  const taken = applyMoves(older, take.notes, [offer!.ways[0]!.move]);
  assert.equal(taken.parts.find(({ name }) => name === 'Drums')?.role, 'strings');
  assert.deepEqual(rolesHeardAnew(older, today, taken), []);
});

test('nothing is offered on a take of today, where a person has said what a part is, or after it was refused', () => {
  assert.deepEqual(rolesHeardAnew(older, splitOfToday(take, older, SPLIT_METHOD), older), []);
  const part = older.parts.find(({ name }) => name === 'Drums')!.id;
  const said = applyMoves(older, take.notes, [{ move: 'role', part, role: 'keys' }]);
  assert.deepEqual(rolesHeardAnew(older, today, said), []);
  const proposal = rolesHeardAnew(older, splitOfToday(take, older, SPLIT_METHOD - 1), older)[0]!.id;
  const refused = applyMoves(older, take.notes, [{ move: 'refuse', proposal }]);
  assert.deepEqual(rolesHeardAnew(older, today, refused), []);
});
