import assert from 'node:assert/strict';
import { test } from 'node:test';
import { takeFrom, type Take } from '../../../src/core/capture/take.ts';
import { barsSounding } from '../../../src/core/split/bars-sounding.ts';
import {
  habitInWords,
  habitMove as habitMoveFrom,
  habitsIn as habitsFrom,
  matterOf,
  type Habit,
} from '../../../src/core/split/habits.ts';
import type { Move } from '../../../src/core/split/moves.ts';
import { mendsFor } from '../../../src/core/split/proposals.ts';
import { playingParts, splitTake } from '../../../src/core/split/split.ts';
import { tallyOf } from '../../../src/core/split/tally.ts';
import { bandFile } from '../../../src/core/standins/band.ts';
import { replayMoves } from '../../support/take.ts';

const habitsIn = (take: Take, moves: readonly Move[]) => habitsFrom(take, splitTake(take), moves);
const habitMove = (take: Take, done: readonly Move[], habits: readonly Habit[], title: string) =>
  habitMoveFrom(take, splitTake(take), done, habits, title);

const CHARTS = ['Dm | Gm | A7 | Dm', 'G | C | D7 | G', 'Em | Am | B7 | Em'];

/** Takes of one source: other music each time, the same streams. In this style its drums come on channel 1. */
const takes = CHARTS.map((chart, i) =>
  takeFrom(bandFile({ chart, style: 'market', bpm: 100 + i, seed: i + 1, title: 'market' })),
);
const idOf = (take: Take, name: string) => splitTake(take).parts.find((part) => part.name === name)!.id;

/** What somebody does to the first take: eight things. */
function corrected(take: Take): Move[] {
  const kit = idOf(take, 'Kit');
  const bass = idOf(take, 'Bass');
  const early = Math.round(take.timing.timeline.ppq * 4 * 4 - take.timing.timeline.ppq / 8);
  const moves: Move[] = [
    { move: 'sound', part: kit, channel: 9, program: 0 },
    { move: 'rename', part: kit, name: 'Booth kit' },
    { move: 'merge', parts: [bass, idOf(take, 'Bass pickup'), idOf(take, 'Bass ending')] },
    { move: 'rename', part: bass, name: 'Tuba' },
    { move: 'sound', part: bass, channel: 1, program: 58 },
    { move: 'role', part: idOf(take, 'Guitar'), role: 'keys' },
    { move: 'weigh', part: idOf(take, 'Pad'), weight: 0.5 },
  ];
  const { split } = replayMoves(take, moves);
  return [
    ...moves,
    {
      move: 'together',
      title: 'tail',
      moves: playingParts(split)
        .filter(({ notes }) => notes.some((i) => take.notes.tick[i]! >= early))
        .map(({ part }) => ({ move: 'setAside', part: part.id, reason: 'tail bars', fromTick: early })),
    },
  ];
}

/** A split as somebody sees it. */
const seen = (take: Take, moves: readonly Move[]) =>
  playingParts(replayMoves(take, moves).split).map(({ part: { name, role, channel, program, weight } }) => ({
    name,
    role,
    channel,
    program,
    weight,
  }));

test('what was done to one take is done to the next of its source by one move', () => {
  const [first, second] = takes as [Take, Take];
  const habits = habitsIn(first, corrected(first));
  assert.equal(habits.length, 8, habits.map(habitInWords).join('; '));
  const move = habitMove(second, [], habits, 'as usual')!;
  assert.deepEqual(seen(second, [move]), seen(first, corrected(first)));
  const { take, split } = replayMoves(second, [move]);
  assert.equal(barsSounding(take, split), 4);
  const { parts, setAside } = tallyOf(split);
  assert.equal(
    [...parts, ...setAside].reduce((sum, count) => sum + count, 0),
    take.notes.length,
  );
});

test('done once, nothing is left to do; what was decided otherwise is left alone', () => {
  const [first, second] = takes as [Take, Take];
  const habits = habitsIn(first, corrected(first));
  const move = habitMove(second, [], habits, 'as usual')!;
  assert.equal(habitMove(second, [move], habits, 'again'), null);
  const own: Move = { move: 'rename', part: idOf(second, 'Kit'), name: 'Barrels' };
  const after = habitMove(second, [own], habits, 'as usual')!;
  assert.ok(seen(second, [own, after]).some(({ name }) => name === 'Barrels'));
});

test('the habits of a take that was helped by them are the same habits', () => {
  const [first, second] = takes as [Take, Take];
  const habits = habitsIn(first, corrected(first));
  const again = habitsIn(second, [habitMove(second, [], habits, 'as usual')!]);
  const key = (list: readonly Habit[]) => new Set(list.map((habit) => JSON.stringify(habit)));
  assert.deepEqual(key(again), key(habits));
});

test('an accepted proposal is a habit of its kind: its like is accepted, whatever notes it is about', () => {
  const [first, second] = [1, 2].map((seed) =>
    takeFrom(
      bandFile({
        chart: CHARTS[seed]!,
        style: 'river',
        bpm: 96,
        seed,
        title: 'x',
        mishaps: ['doubled'],
      }),
    ),
  ) as [Take, Take];
  const proposal = mendsFor(first, splitTake(first)).find(({ kind }) => kind === 'doubled')!;
  const habits = habitsIn(first, [proposal.ways[0]!.move]);
  assert.equal(habits.length, 1);
  assert.match(habitInWords(habits[0]!), /notes that come twice/);
  const move = habitMove(second, [], habits, 'as usual')!;
  const like = mendsFor(second, splitTake(second)).find(({ kind }) => kind === 'doubled')!;
  assert.deepEqual(move.moves, (like.ways[0]!.move as Extract<Move, { move: 'together' }>).moves);
});

test('a take without the stream that a habit is about is left as it is', () => {
  const lonely = takeFrom(
    bandFile({ chart: 'C', style: 'river', bpm: 96, seed: 1, title: 'x', mishaps: [] }),
  );
  const habits: Habit[] = [{ do: 'rename', mark: '16/99', name: 'Nobody' }];
  assert.equal(habitMove(lonely, [], habits, 'as usual'), null);
});

test('of two that contradict each other in one take the later holds; single notes are no habit', () => {
  const take = takes[0]!;
  const pad = idOf(take, 'Pad');
  const habits = habitsIn(take, [
    { move: 'rename', part: pad, name: 'Fog' },
    { move: 'rename', part: pad, name: 'Steam' },
    { move: 'repitch', notes: '8', by: 1 },
    { move: 'chooseKey', key: { tonic: 0, mode: 'major' } },
  ]);
  assert.deepEqual(
    habits.map((habit) => ('name' in habit ? habit.name : '')),
    ['Steam'],
  );
  assert.equal(matterOf(habits[0]!), matterOf({ ...habits[0]!, name: 'Fog' } as Habit));
});
