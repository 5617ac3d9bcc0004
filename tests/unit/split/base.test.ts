import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { takeFrom } from '../../../src/core/capture/take.ts';
import { baseOf, splitOf } from '../../../src/core/split/base.ts';
import { applyMoves, continueMoves } from '../../../src/core/split/moves.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import { midiFileArbitrary } from '../../support/midi.ts';
import { replayMoves } from '../../support/take.ts';

/** The first split as plain data: kept, and the same again. */

test('what is kept of a first split is all of it, through JSON too', () =>
  fc.assert(
    fc.property(midiFileArbitrary, (file) => {
      const split = splitTake(takeFrom(file));
      assert.deepEqual(splitOf(JSON.parse(JSON.stringify(baseOf(split)))), split);
    }),
  ));

test('moves on what was kept do what they do on what was found; what was kept stays as it is', () =>
  fc.assert(
    fc.property(midiFileArbitrary, (file) => {
      const take = takeFrom(file);
      const first = splitTake(take);
      fc.pre(first.parts.length > 0);
      const base = baseOf(first);
      const before = JSON.stringify(base);
      const moves = [
        { move: 'rename', part: 'p1', name: 'Renamed' },
        { move: 'setAside', part: 'p1', reason: 'not wanted' },
      ] as const;
      assert.deepEqual(continueMoves(take, splitOf(base), moves), replayMoves(take, moves));
      assert.equal(JSON.stringify(base), before);
    }),
  ));

test('a split that has set notes aside is no first split', () => {
  const take = takeFrom(
    fc.sample(midiFileArbitrary, { numRuns: 50, seed: 7 }).find((file) => takeFrom(file).notes.length > 0)!,
  );
  const moved = applyMoves(splitTake(take), take.notes, [{ move: 'setAside', part: 'p1', reason: 'x' }]);
  assert.throws(() => baseOf(moved), RangeError);
});
