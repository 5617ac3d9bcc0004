import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { channelEvent } from '../../../src/core/midi/smf.ts';
import { doubledBy, doublesAmong, doubleTicks, layeredParts } from '../../../src/core/split/doubles.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import { takeOf, trackOf, type NoteSpec } from '../../support/midi.ts';

/** At 120 BPM and 480 ticks a quarter note a millisecond is 0.96 ticks. */
const NEAR = 9;
const FAR = 10;

const all = (count: number) => Array.from({ length: count }, (_, i) => i);

test('ten milliseconds in ticks, by the tempo of the beginning', () => {
  const take = takeOf([trackOf([[0, 240, 60]])]);
  assert.equal(doubleTicks(take), 9.6);
});

test('of one pitch twice within ten milliseconds the later note is the double; other pitches and later repeats are none', () => {
  const take = takeOf([
    trackOf([
      [0, 100, 60, 90, 0],
      [NEAR, 100, 60, 90, 1],
      [NEAR, 100, 64, 90, 1],
      [480, 100, 60, 90, 0],
      [480 + FAR, 100, 60, 90, 1],
    ]),
  ]);
  const { tick, pitch } = take.notes;
  const found = doublesAmong(take, all(take.notes.length));
  assert.deepEqual(
    found.map((i) => [tick[i], pitch[i]]),
    [[NEAR, 60]],
  );
});

test('three of one pitch at once are one note and its double, and one more: nothing is used twice', () => {
  const take = takeOf([trackOf([0, 1, 2].map((channel): NoteSpec => [0, 100, 60, 90, channel]))]);
  assert.equal(doublesAmong(take, all(3)).length, 1);
});

test('a note of the other part answers for one alone', () => {
  const take = takeOf([
    trackOf([
      [0, 100, 60, 90, 0],
      [4, 100, 60, 90, 1],
      [8, 100, 60, 90, 2],
    ]),
  ]);
  assert.deepEqual(doubledBy(take, [0, 2], [1]), [0]);
  assert.deepEqual(doubledBy(take, [1], [0, 2]), [1]);
});

/** Notes of two channels, so that both may sound one pitch at once. */
const twoParts = fc.array(
  fc.tuple(fc.nat(2000), fc.integer({ min: 60, max: 63 }), fc.integer({ min: 0, max: 1 })),
  { maxLength: 60 },
);

test('for whatever is played: as many of the one are doubled by the other as of the other by the one, in order, each near a note of its pitch', () => {
  fc.assert(
    fc.property(twoParts, (played) => {
      // A note a tick, pitch and channel: what begins twice at once on one channel is one key.
      const spec = new Map(
        played.map(([tick, pitch, channel]) => [`${tick} ${pitch} ${channel}`, [tick, pitch, channel]]),
      );
      const take = takeOf([
        trackOf(
          [...spec.values()].map(([tick, pitch, channel]): NoteSpec => [tick!, 1, pitch!, 90, channel]),
        ),
      ]);
      const { notes } = take;
      const of = (channel: number) => all(notes.length).filter((i) => notes.channel[i] === channel);
      const [one, other] = [doubledBy(take, of(0), of(1)), doubledBy(take, of(1), of(0))];
      assert.equal(one.length, other.length);
      assert.deepEqual(
        one,
        [...one].sort((a, b) => a - b),
      );
      const isNear = (i: number, j: number) =>
        notes.pitch[i] === notes.pitch[j] && Math.abs(notes.tick[i]! - notes.tick[j]!) <= doubleTicks(take);
      for (const i of one) assert.ok(of(1).some((j) => isNear(i, j)));
    }),
  );
});

const line = (channel: number, late = 0): NoteSpec[] =>
  all(16).map((k) => [k * 240 + late, 200, 48 + ((k * 5) % 13), 90, channel]);

test('two parts that play the same are layered, the later one named second; of eight notes or fewer nobody can tell', () => {
  const programs = [0, 1].map((channel) => channelEvent(0, 0xc0, channel, channel === 0 ? 48 : 80));
  const both = takeOf([trackOf(line(0), [programs[0]!]), trackOf(line(1, NEAR), [programs[1]!])]);
  assert.deepEqual(layeredParts(both, splitTake(both)), [[0, 1]]);
  const late = takeOf([trackOf(line(0), [programs[0]!]), trackOf(line(1, 60), [programs[1]!])]);
  assert.deepEqual(layeredParts(late, splitTake(late)), []);
  const few = takeOf([
    trackOf(line(0).slice(0, 7), [programs[0]!]),
    trackOf(line(1).slice(0, 7), [programs[1]!]),
  ]);
  assert.deepEqual(layeredParts(few, splitTake(few)), []);
});
