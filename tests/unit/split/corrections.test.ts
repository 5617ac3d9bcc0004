import assert from 'node:assert/strict';
import { test } from 'node:test';
import { pulled, scaled } from '../../../src/core/capture/retime.ts';
import { byHandOf } from '../../../src/core/split/by-hand.ts';
import { correctTake, isRetimed } from '../../../src/core/split/corrections.ts';
import { correctionsOf, describeMove, type Move } from '../../../src/core/split/moves.ts';
import { noteSet } from '../../../src/core/split/note-set.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import { tallyOf } from '../../../src/core/split/tally.ts';
import { takeOf, trackOf, type NoteSpec } from '../../support/midi.ts';
import { replayMoves } from '../../support/take.ts';

const chords: NoteSpec[] = Array.from({ length: 8 }, (_, bar) =>
  [48, 52, 55].map((pitch): NoteSpec => [720 + bar * 1920, 1800, pitch]),
).flat();
const take = takeOf([trackOf(chords)]);
const late: Move = { move: 'retime', how: 'pull back', ...pulled(720) };

test('corrections are moves: the take changes, its split and its tally hold, and each is told in words', () => {
  const moves: Move[] = [
    late,
    { move: 'repitch', notes: noteSet([1]), by: 1 },
    { move: 'rename', part: 'p1', name: 'Keys' },
  ];
  const state = replayMoves(take, moves);
  assert.equal(state.take.notes.tick[0], 0);
  assert.equal(state.take.notes.pitch[1], 53);
  assert.equal(take.notes.pitch[1], 52);
  assert.equal(state.split.parts[0]!.name, 'Keys');
  const tally = tallyOf(state.split);
  assert.equal(
    tally.parts.reduce((sum, count) => sum + count, 0),
    take.notes.length,
  );
  assert.deepEqual(
    moves.map((move) => describeMove(move, splitTake(take))),
    ['pull back', '1 note 1 semitone higher', 'rename to "Keys"'],
  );
  // What phrases are cut from: the same take by the corrections alone.
  assert.deepEqual(correctTake(take, correctionsOf(moves)).notes, state.take.notes);
});

test('a pitch is never moved out of 0 to 127, and notes that are not there are not moved', () => {
  const up = correctTake(take, [{ move: 'repitch', notes: noteSet([0, 999]), by: 100 }]);
  assert.equal(up.notes.pitch[0], 127);
});

test('what is set aside by ticks means the time in which it was said', () => {
  const bars: Move = { move: 'setAside', part: 'p1', reason: 'bar 1', fromTick: 0, toTick: 1920 };
  const before = replayMoves(take, [bars, late]).split.owner;
  const after = replayMoves(take, [late, bars]).split.owner;
  assert.deepEqual([...before].filter((owner) => owner < 0).length, 3);
  assert.deepEqual(before, after);
});

test('chords written by hand go along with the time of their notes', () => {
  const chord = (fromTick: number, toTick: number, symbol: string | null): Move => ({
    move: 'chord',
    fromTick,
    toTick,
    symbol,
  });
  const written = (...moves: Move[]) =>
    byHandOf(moves).chords.map(({ fromTick, toTick, symbol }) => [fromTick, toTick, symbol]);
  assert.deepEqual(written(chord(720, 2640, 'Cmaj7'), late), [[0, 1920, 'Cmaj7']]);
  assert.deepEqual(written(late, chord(0, 1920, 'C6'), { move: 'asCaptured' }), [[720, 2640, 'C6']]);
  assert.deepEqual(written(chord(0, 1920, 'C'), { move: 'retime', how: 'double', ...scaled(2) }), [
    [0, 3840, 'C'],
  ]);
  // The later stands over the earlier; null takes back to what is found.
  assert.deepEqual(written(chord(0, 3840, 'C'), chord(960, 1920, 'F')), [
    [0, 960, 'C'],
    [960, 1920, 'F'],
    [1920, 3840, 'C'],
  ]);
  assert.deepEqual(written(chord(0, 3840, 'C'), chord(0, 1920, null)), [[1920, 3840, 'C']]);
});

test('whether a take stands on other bars than it was captured on', () => {
  const repitch: Move = { move: 'repitch', notes: noteSet([0]), by: 1 };
  const is = (...moves: Move[]) => isRetimed(correctionsOf(moves));
  assert.deepEqual(
    [is(), is(repitch), is(late), is(late, repitch), is(late, { move: 'asCaptured' })],
    [false, false, true, true, false],
  );
});
