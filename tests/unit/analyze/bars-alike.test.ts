import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import {
  barLikeness,
  barOf,
  barsOf,
  inBoth,
  likenessTable,
  sharedNotes,
} from '../../../src/core/analyze/bars-alike.ts';
import { takeOf, trackOf, type NoteSpec } from '../../support/midi.ts';

/** Places of a bar times 128 and pitches. */
const bar = fc.array(
  fc.tuple(fc.nat(15), fc.integer({ min: 40, max: 80 })).map(([place, pitch]) => place * 128 + pitch),
  { maxLength: 24 },
);

test('what two bars have in common is what their sets have in common, moved or not', () => {
  fc.assert(
    fc.property(bar, bar, fc.integer({ min: -12, max: 12 }), (a, b, shift) => {
      const [one, other] = [barOf(a), barOf(b)];
      const wanted = new Set(b);
      const expected = [...new Set(a)].filter((note) => wanted.has(note + shift)).length;
      assert.equal(inBoth(one.notes, other.notes, shift), expected);
    }),
  );
});

test('likeness is the same both ways, 0 to 1, and 1 of a bar with itself', () => {
  fc.assert(
    fc.property(bar, bar, (a, b) => {
      const [one, other] = [barOf(a), barOf(b)];
      const likeness = barLikeness(one, other);
      assert.ok(likeness >= 0 && likeness <= 1);
      assert.equal(likeness, barLikeness(other, one));
      if (a.length > 0) assert.equal(barLikeness(one, one), 1);
    }),
  );
});

test('a bar a whole tone higher is the same bar, moved; unmoved only its rhythm is', () => {
  const riff = [60, 63, 67, 63].map((pitch, k) => k * 4 * 128 + pitch);
  const higher = riff.map((note) => note + 2);
  assert.equal(barLikeness(barOf(riff), barOf(higher), 2), 1);
  assert.ok(Math.abs(barLikeness(barOf(riff), barOf(higher)) - 0.2) < 1e-9);
});

test('two empty bars tell nothing; an empty one and a full one have nothing in common', () => {
  const [none, one] = [barOf([]), barOf([60])];
  assert.equal(barLikeness(none, none), 0.5);
  assert.equal(barLikeness(none, one), 0);
});

test('the table says what is said of two bars, however often it is asked', () => {
  fc.assert(
    fc.property(fc.array(bar, { minLength: 1, maxLength: 5 }), (played) => {
      const bars = played.map(barOf);
      const table = likenessTable(bars);
      for (const again of [1, 2])
        bars.forEach((one, i) =>
          bars.forEach((other, j) =>
            assert.equal(table(i, j), Math.fround(barLikeness(one, other)), `time ${again}`),
          ),
        );
    }),
  );
});

const beats = (tick: number): NoteSpec[] => [0, 480, 960, 1440].map((at, k) => [tick + at, 200, 60 + k]);

test('a note that comes a little before the bar line belongs to the bar that begins; bars in which nothing begins are empty', () => {
  const take = takeOf([trackOf([...beats(0), [1900, 100, 72], [3 * 1920 - 1, 1, 50]])]);
  const bars = barsOf(take, [...Array(take.notes.length).keys()]);
  assert.deepEqual(
    bars.map(({ notes }) => notes.length),
    [4, 1, 0, 1],
  );
  assert.deepEqual([...bars[1]!.onsets], [0]);
});

test('of stretches, the share that both have: all of the same music, half where every other note is another', () => {
  const bars = [
    [60, 512 + 62],
    [60, 512 + 62],
    [60, 512 + 63],
  ].map(barOf);
  assert.equal(sharedNotes(bars, 0, 1, 1), 1);
  assert.equal(sharedNotes(bars, 0, 2, 1), 0.5);
  assert.equal(sharedNotes([barOf([]), barOf([])], 0, 1, 1), 1);
});
