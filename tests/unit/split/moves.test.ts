import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { takeFrom, type Take } from '../../../src/core/capture/take.ts';
import { partFiles, partsInOneFile } from '../../../src/core/exchange/part-files.ts';
import { clipFromPart } from '../../../src/core/phrase/clip.ts';
import { setRegister } from '../../../src/core/normalize/register.ts';
import { transpose } from '../../../src/core/normalize/transpose.ts';
import {
  applyMoves,
  describeMove,
  MoveError,
  type Move,
  type SingleMove,
} from '../../../src/core/split/moves.ts';
import { areIndependent } from '../../../src/core/split/independent.ts';
import { notesIn, noteSet } from '../../../src/core/split/note-set.ts';
import { partNotes, splitTake, type Split } from '../../../src/core/split/split.ts';
import { tallyOf } from '../../../src/core/split/tally.ts';
import { midiFileArbitrary, takeOf, trackOf } from '../../support/midi.ts';

test('a set of notes says which it holds, in a quarter of a digit a note', () => {
  assert.equal(noteSet([0, 3, 4]), '98');
  assert.deepEqual(notesIn('98'), [0, 3, 4]);
  assert.equal(noteSet([]), '');
  assert.throws(() => noteSet([-1]), RangeError);
  fc.assert(
    fc.property(fc.uniqueArray(fc.nat(3000)), (indices) => {
      const set = noteSet(indices);
      assert.deepEqual(
        notesIn(set),
        [...indices].sort((a, b) => a - b),
      );
      assert.ok(set.length <= Math.max(0, ...indices) / 4 + 1);
    }),
  );
});

/** Every kind of move, on parts and notes of which some are not there. */
const anyMove = (parts: number, notes: number): fc.Arbitrary<SingleMove> => {
  const part = fc.integer({ min: 1, max: parts + 2 }).map((n) => `p${n}`);
  const set = fc.uniqueArray(fc.nat(Math.max(0, notes + 5)), { maxLength: 40 }).map(noteSet);
  const tick = fc.option(fc.nat(5000), { nil: undefined });
  return fc.oneof(
    fc.record({ move: fc.constant('rename' as const), part, name: fc.string() }),
    fc.record({ move: fc.constant('role' as const), part, role: fc.constantFrom('lead', 'drums' as const) }),
    fc.record({ move: fc.constant('sound' as const), part, channel: fc.nat(15), program: fc.nat(127) }),
    fc.record({
      move: fc.constant('setAside' as const),
      part,
      reason: fc.constant('any'),
      fromTick: tick,
      toTick: tick,
      notes: fc.option(set, { nil: undefined }),
    }),
    fc.record({ move: fc.constant('bringBack' as const), entry: fc.nat(4) }),
    fc.record({
      move: fc.constant('merge' as const),
      parts: fc.uniqueArray(part, { minLength: 2, maxLength: 4 }),
    }),
    fc.record({
      move: fc.constant('divide' as const),
      part,
      how: fc.constant('any'),
      into: fc.array(fc.record({ name: fc.string(), notes: set, role: fc.constant('lead' as const) }), {
        minLength: 1,
        maxLength: 3,
      }),
    }),
    fc.record({ move: fc.constant('give' as const), notes: set, part }),
    fc.record({ move: fc.constant('lock' as const), part, notes: set, on: fc.boolean() }),
    fc.record({
      move: fc.constant('pitchMap' as const),
      part,
      pairs: fc.array(fc.tuple(fc.nat(127), fc.nat(127)), { maxLength: 4 }),
    }),
    fc.record({ move: fc.constant('refuse' as const), proposal: fc.string() }),
  );
};

/** Any take with its first split, and what is made of moves that could be done on it. */
const anyTakeAnd = <Rest>(rest: (move: fc.Arbitrary<SingleMove>) => fc.Arbitrary<Rest>) =>
  midiFileArbitrary.chain((file) => {
    const take = takeFrom(file);
    const first = splitTake(take);
    return fc.tuple(fc.constant({ take, first }), rest(anyMove(first.parts.length, take.notes.length)));
  });

/** A split after some moves; null where one of them cannot be done, for a reason that it gives. */
function afterMoves(split: Split, take: Take, ...moves: SingleMove[]): Split | null {
  try {
    return applyMoves(split, take.notes, moves);
  } catch (error) {
    assert.ok(error instanceof MoveError, `${(error as Error).message}`);
    return null;
  }
}

test('after any moves on any take every note has one owner, the tally balances, and what was given is as it was', () => {
  fc.assert(
    fc.property(
      anyTakeAnd((move) => fc.array(move, { maxLength: 14 })),
      ([{ take, first }, moves]) => {
        const before = structuredClone(first);
        let split = first;
        const done: SingleMove[] = [];
        for (const move of moves) {
          const next = afterMoves(split, take, move);
          if (next) done.push(move);
          split = next ?? split;
        }
        const tally = tallyOf(split);
        assert.ok(tally.balanced);
        assert.equal(tally.in, take.notes.length);
        const owned = split.parts.flatMap((_, index) => partNotes(split, index));
        assert.equal(new Set(owned).size, owned.length);
        assert.equal(owned.length + tally.aside, take.notes.length);
        assert.deepEqual(first, before);
        // Played again all at once, or as one move, it comes out the same.
        assert.deepEqual(applyMoves(first, take.notes, done), split);
        if (done.length > 0)
          assert.deepEqual(
            applyMoves(first, take.notes, [{ move: 'together', title: 'all', moves: done }]),
            split,
          );
        for (const move of done) assert.ok(describeMove(move, split).length > 0);
      },
    ),
    { numRuns: 150 },
  );
});

/** Two bars: a tune over two key switches. */
const switched = () =>
  takeOf([
    trackOf([
      [0, 100, 24],
      [0, 400, 60],
      [480, 400, 64],
      [960, 100, 26],
      [960, 400, 67],
    ]),
  ]);

const lockSwitches: Move = { move: 'lock', part: 'p1', notes: noteSet([0, 3]), on: true };

test('locked notes are not transposed, by semitones, by key or by octaves, and can be unlocked', () => {
  const take = switched();
  const split = applyMoves(splitTake(take), take.notes, [lockSwitches]);
  const clip = clipFromPart(take, split, 0, { tonic: 0, mode: 'major' });
  const pitches = (of: typeof clip) => of.notes.map(({ pitch }) => pitch);
  assert.deepEqual(pitches(transpose(clip, { semitones: 5 }).clip), [24, 65, 69, 26, 72]);
  assert.deepEqual(pitches(transpose(clip, { to: 'D' }).clip), [24, 62, 66, 26, 69]);
  assert.deepEqual(pitches(setRegister(clip, { low: 72, high: 96 }).clip), [24, 72, 76, 26, 79]);
  const free = applyMoves(split, take.notes, [{ ...lockSwitches, on: false } as Move]);
  assert.deepEqual(clipFromPart(take, free, 0, null).locked, []);
});

test('a drum map changes what sounds and leaves, never what was captured', () => {
  const take = takeOf([
    trackOf([
      [0, 60, 48],
      [480, 60, 50],
    ]),
  ]);
  const split = applyMoves(splitTake(take), take.notes, [
    {
      move: 'pitchMap',
      part: 'p1',
      pairs: [
        [48, 36],
        [50, 38],
      ],
    },
    { move: 'role', part: 'p1', role: 'drums' },
    { move: 'sound', part: 'p1', channel: 9, program: 0 },
  ]);
  const heard = clipFromPart(take, split, 0, null);
  assert.deepEqual(
    heard.notes.map(({ pitch }) => pitch),
    [36, 38],
  );
  const notesOf = (midi: ReturnType<typeof partsInOneFile>) => {
    const { notes } = takeFrom(midi);
    return [...notes.pitch].map((pitch, i) => [pitch, notes.channel[i]]);
  };
  const sounding = [
    [36, 9],
    [38, 9],
  ];
  assert.deepEqual(notesOf(partFiles(take, split, 'sounding')[0]!.midi), sounding);
  assert.deepEqual(notesOf(partsInOneFile(take, split, 'all')), sounding);
  assert.deepEqual(notesOf(partFiles(take, split)[0]!.midi), [
    [48, 0],
    [50, 0],
  ]);
  assert.deepEqual([...take.notes.pitch], [48, 50]);
});

test('moves are told in words that a musician reads', () => {
  const take = switched();
  const split = splitTake(take);
  const words = (move: Move) => describeMove(move, split);
  assert.equal(words(lockSwitches), 'lock 2 notes of Acoustic Grand Piano');
  assert.equal(words({ move: 'give', notes: noteSet([1]), part: 'p1' }), '1 note to Acoustic Grand Piano');
  assert.equal(
    words({ move: 'sound', part: 'p1', channel: 9, program: 0 }),
    'Acoustic Grand Piano on channel 10, program 1',
  );
  assert.equal(
    words({
      move: 'pitchMap',
      part: 'p1',
      pairs: [
        [1, 2],
        [3, 4],
      ],
    }),
    'Acoustic Grand Piano sounds by a map of 2 pitches',
  );
  assert.equal(
    words({ move: 'divide', part: 'p1', how: 'hands', into: [{ name: 'Left', notes: '', role: 'keys' }] }),
    'Left out of Acoustic Grand Piano by hands',
  );
});

/** What a split is, whatever the order of what was set aside: of each note whose it is, and of each part what it is. */
function meaningOf(split: Split) {
  const owners = [...split.owner].map((owner) => {
    if (owner >= 0) return split.parts[owner]!.id;
    const { reason, part } = split.setAside[-1 - owner]!;
    return `${reason} of ${split.parts[part]!.id}`;
  });
  return { owners, parts: split.parts, locked: [...split.locked], refused: [...split.refused].sort() };
}

test('moves that are independent come out the same in either order; those of one part, or by notes, are not', () => {
  let tried = 0;
  fc.assert(
    fc.property(
      anyTakeAnd((move) => fc.tuple(fc.array(move, { maxLength: 4 }), move, move)),
      ([{ take, first }, [before, one, other]]) => {
        if (!areIndependent(one, other)) return;
        const after = (split: Split, ...moves: SingleMove[]) => afterMoves(split, take, ...moves);
        const start = before.reduce((split, move) => after(split, move) ?? split, first);
        if (!after(start, one) || !after(start, other)) return;
        tried++;
        const [there, back] = [after(start, one, other), after(start, other, one)];
        assert.ok(there && back);
        assert.deepEqual(meaningOf(there), meaningOf(back));
      },
    ),
    { numRuns: 3000 },
  );
  assert.ok(tried > 100, `${tried} pairs`);
  const chord = (fromTick: number, toTick: number): Move => ({
    move: 'chord',
    fromTick,
    toTick,
    symbol: 'Am',
  });
  assert.equal(areIndependent(chord(0, 480), chord(480, 960)), true);
  assert.equal(areIndependent(chord(0, 480), chord(240, 960)), false);
  assert.equal(areIndependent({ move: 'rename', part: 'p1', name: 'a' }, { move: 'role', part: 'p1', role: 'bass' }), true); // prettier-ignore
  assert.equal(areIndependent({ move: 'rename', part: 'p1', name: 'a' }, { move: 'rename', part: 'p10', name: 'b' }), true); // prettier-ignore
  assert.equal(areIndependent({ move: 'rename', part: 'p1', name: 'a' }, { move: 'merge', parts: ['p2', 'p1'] }), false); // prettier-ignore
  assert.equal(areIndependent({ move: 'bringBack', entry: 0 }, { move: 'nameTake', name: 'x' }), false);
});
