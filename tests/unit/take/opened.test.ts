import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { harmonyOf } from '../../../src/core/analyze/analysis.ts';
import { MoveError, type Move } from '../../../src/core/split/moves.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import { band } from '../../../src/core/standins/band.ts';
import { performanceFile } from '../../../src/core/standins/performance.ts';
import { takeFacts, type TakeFacts } from '../../../src/core/capture/facts.ts';
import { takeFrom } from '../../../src/core/capture/take.ts';
import { mendsFor, type Proposal } from '../../../src/core/split/proposals.ts';
import {
  afterMove,
  byHandIn,
  correctionsIn,
  derive,
  harmonyIn,
  openTake,
  type Derivation,
  type OpenedTake,
} from '../../../src/core/take/opened.ts';
import { replayMoves } from '../../support/take.ts';

/** An opened take: one move more is worked out from the last state and is the same as all moves from the first. */

const take = takeFrom(
  performanceFile(band.play({ ...band.defaults, chart: 'Dm | Gm A7 | Dm | C7', choruses: 2, bpm: 96 })),
);

const part = fc.integer({ min: 1, max: 6 }).map((n) => `p${n}`);
const tick = fc.nat(16 * 960);
const anyMove: fc.Arbitrary<Move> = fc.oneof(
  fc.record({ move: fc.constant('rename' as const), part, name: fc.constantFrom('Low', 'High') }),
  fc.record({
    move: fc.constant('role' as const),
    part,
    role: fc.constantFrom('lead' as const, 'bass' as const),
  }),
  fc.record({
    move: fc.constant('setAside' as const),
    part,
    reason: fc.constant('not wanted'),
    fromTick: tick,
    toTick: tick,
  }),
  fc.record({
    move: fc.constant('merge' as const),
    parts: fc.uniqueArray(part, { minLength: 2, maxLength: 3 }),
  }),
  fc.record({
    move: fc.constant('meter' as const),
    fromTick: tick,
    numerator: fc.constantFrom(3, 4, 6),
    denominator: fc.constantFrom(4 as const, 8 as const),
  }),
  fc.record({
    move: fc.constant('chord' as const),
    fromTick: fc.constant(0),
    toTick: fc.constant(960),
    symbol: fc.constantFrom('Bb', 'F/A'),
  }),
  fc.constant<Move>({ move: 'asCaptured' }),
  fc.constant<Move>({ move: 'sound', part: 'p3', channel: 9, program: 0 }),
  fc.constant<Move>({ move: 'refuse', proposal: 'kit p3' }),
  fc.constant<Move>({ move: 'hearAnew', method: 1 }),
  fc.record({ move: fc.constant('weigh' as const), part, weight: fc.constantFrom(0, 1, null) }),
);

/** The moves of a list that can be done, one after the other. */
function possible(moves: readonly Move[]): Move[] {
  const done: Move[] = [];
  for (const move of moves) {
    try {
      replayMoves(take, [...done, move]);
      done.push(move);
    } catch (error) {
      if (!(error instanceof MoveError)) throw error;
    }
  }
  return done;
}

test('move by move is the same as all at once', () => {
  fc.assert(
    fc.property(fc.array(anyMove, { maxLength: 8 }), (tried) => {
      const moves = possible(tried);
      const once = openTake(take, splitTake(take), moves);
      const stepwise = moves.reduce(afterMove, openTake(take, splitTake(take)));
      assert.deepEqual(stepwise.split, once.split);
      assert.deepEqual(stepwise.take.notes, once.take.notes);
      assert.deepEqual(stepwise.take.timing.timeline, once.take.timing.timeline);
      assert.deepEqual(stepwise.moves, once.moves);
      assert.deepEqual(correctionsIn(stepwise), correctionsIn(once));
      assert.deepEqual(byHandIn(stepwise), byHandIn(once));
    }),
    { numRuns: 60 },
  );
});

test('what is found in the music is kept for as long as it holds, and never longer', () => {
  const opened = openTake(take, splitTake(take));
  const found = harmonyIn(opened);
  assert.equal(harmonyIn(afterMove(opened, { move: 'rename', part: 'p2', name: 'Low' })), found);
  assert.equal(harmonyIn(afterMove(opened, { move: 'nameTake', name: 'Other' })), found);
  const told = afterMove(opened, { move: 'chord', fromTick: 0, toTick: 3840, symbol: 'Bb' });
  assert.notEqual(harmonyIn(told), found);
  assert.deepEqual(harmonyIn(told), harmonyOf(told.take, told.split, byHandIn(told)));
});

test('what is derived move by move is what is derived afresh, whatever the moves touched', () => {
  const FACTS: Derivation<TakeFacts> = { dependsOn: ['take'], find: (opened) => takeFacts(opened.take) };
  const MENDS: Derivation<Proposal[]> = {
    dependsOn: ['take', 'parts', 'sound', 'offer'],
    find: (opened) => mendsFor(opened.take, opened.split),
  };
  fc.assert(
    fc.property(fc.array(anyMove, { minLength: 1, maxLength: 5 }), (tried) => {
      const moves = possible(tried);
      let opened = openTake(take, splitTake(take));
      for (const [k, move] of moves.entries()) {
        opened = afterMove(opened, move);
        const afresh = openTake(take, splitTake(take), moves.slice(0, k + 1));
        assert.deepEqual(harmonyIn(opened).chords, harmonyIn(afresh).chords);
        assert.deepEqual(derive(opened, FACTS), derive(afresh, FACTS));
        const ids = (one: OpenedTake) => derive(one, MENDS).map(({ id }) => id);
        assert.deepEqual(ids(opened), ids(afresh));
      }
    }),
    { numRuns: 25 },
  );
});

test('the state before is untouched by the move after it', () => {
  const opened = openTake(take, splitTake(take));
  const before = structuredClone(opened.split);
  afterMove(opened, { move: 'merge', parts: ['p2', 'p3'] });
  assert.deepEqual(opened.split, before);
  assert.deepEqual(opened.split, splitTake(take));
});
