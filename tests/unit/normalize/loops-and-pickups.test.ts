import assert from 'node:assert/strict';
import { test } from 'node:test';
import { cutBars } from '../../../src/core/normalize/bars.ts';
import { settlePickup } from '../../../src/core/normalize/pickup.ts';
import { applyRecipe } from '../../../src/core/normalize/recipe.ts';
import { shift } from '../../../src/core/normalize/shift.ts';
import type { Clip } from '../../../src/core/phrase/clip.ts';
import { barOf } from '../../support/clips.ts';

/** Four bars of 4/4 at 120 BPM and 480 ticks. */
const fourBars = (notes: readonly (readonly [number, number, number])[], more: Partial<Clip> = {}) =>
  barOf(notes, { length: 7680, ...more });
const shapes = ({ notes }: Clip) => notes.map(({ tick, duration, pitch }) => [tick, duration, pitch]);

test('a note over the end of a loop is heard on at its beginning, as long as it lasted', () => {
  const { clip, setAside, summary } = cutBars(fourBars([[1800, 600, 60]]), {
    start: 1,
    count: 1,
    tail: 'wrap',
  });
  assert.deepEqual(shapes(clip), [
    [0, 480, 60],
    [1800, 120, 60],
  ]);
  assert.deepEqual(new Set(clip.notes.map(({ origin }) => origin)), new Set([0]));
  assert.deepEqual(setAside, []);
  assert.match(summary, /1 heard on at bar 1/);
});

test('what is heard on ends where its pitch is struck, and is cut where that is at once', () => {
  const cut = (first: number) =>
    shapes(
      cutBars(
        fourBars([
          [first, 100, 60],
          [1800, 600, 60],
        ]),
        { start: 1, count: 1, tail: 'wrap' },
      ).clip,
    );
  assert.deepEqual(cut(200), [
    [0, 200, 60],
    [200, 100, 60],
    [1800, 120, 60],
  ]);
  assert.deepEqual(cut(0), [
    [0, 100, 60],
    [1800, 120, 60],
  ]);
});

test('a pedal-point longer than the loop never overlaps itself', () => {
  const { clip } = cutBars(fourBars([[960, 6000, 36]]), { start: 1, count: 1, tail: 'wrap' });
  assert.deepEqual(shapes(clip), [
    [0, 960, 36],
    [960, 960, 36],
  ]);
});

test('doubles may take a piece away: its note is still in the tally', () => {
  const source = fourBars([
    [40, 200, 60],
    [1800, 600, 60],
  ]);
  const result = applyRecipe(source, {
    version: 1,
    steps: [
      { step: 'bars', start: 1, count: 1, tail: 'wrap' },
      { step: 'doubles', ms: 60 },
    ],
  });
  assert.deepEqual(result.setAside, []);
  assert.deepEqual([...new Set(result.clip.notes.map(({ origin }) => origin))].sort(), [0, 1]);
});

test('a pickup comes along in a bar of its own; farther ahead is set aside', () => {
  const clip = fourBars([
    [960, 200, 55],
    [1680, 200, 57],
    [1920, 480, 60],
  ]);
  const { clip: cut, setAside } = cutBars(clip, { start: 2, count: 2, pickup: 1 });
  assert.equal(cut.pickup, 1920);
  assert.equal(cut.length, 3 * 1920);
  assert.deepEqual(shapes(cut), [
    [1680, 200, 57],
    [1920, 480, 60],
  ]);
  assert.deepEqual(setAside, [{ reason: 'before bar 2', origins: [0] }]);
  // Where nothing leads in, there is no empty bar.
  assert.equal(cutBars(fourBars([[1920, 480, 60]]), { start: 2, count: 1, pickup: 1 }).clip.pickup, 0);
});

test("a pickup is played at the loop's end, or left out and counted", () => {
  const clip = fourBars([
    [1680, 200, 57],
    [1920, 480, 60],
  ]);
  const { clip: cut } = cutBars(clip, { start: 2, count: 2, pickup: 1 });
  const wrapped = settlePickup(cut, { mode: 'wrap' });
  assert.deepEqual(shapes(wrapped.clip), [
    [0, 480, 60],
    [3600, 200, 57],
  ]);
  assert.equal(wrapped.clip.length, 3840);
  assert.equal(wrapped.clip.pickup, 0);
  const dropped = settlePickup(cut, { mode: 'drop' });
  assert.deepEqual(dropped.setAside, [{ reason: 'in the pickup', origins: [0] }]);
  assert.deepEqual(settlePickup(cut, { mode: 'keep' }).clip, cut);
});

/** Check value, common practice: -30 ms at 100 BPM and 480 ticks a quarter is -24 ticks. */
test('a shift before bar one is held, wraps on a loop, and becomes a pickup on a phrase', () => {
  const clip = barOf(
    [
      [0, 480, 60],
      [960, 480, 64],
    ],
    { timeline: { ...barOf([]).timeline, tempos: [{ tick: 0, microseconds: 600_000 }] } },
  );
  const at = (early: 'hold' | 'wrap' | 'pickup') => shift(clip, { ms: -30, early });
  assert.deepEqual(
    at('hold').clip.notes.map(({ tick }) => tick),
    [0, 936],
  );
  assert.deepEqual(
    at('wrap').clip.notes.map(({ tick, pitch }) => [tick, pitch]),
    [
      [936, 64],
      [1896, 60],
    ],
  );
  const lead = at('pickup').clip;
  assert.deepEqual(
    lead.notes.map(({ tick }) => tick - lead.pickup),
    [-24, 936],
  );
  assert.equal(lead.pickup, 1920);
  assert.equal(lead.length, 3840);
  assert.match(at('pickup').summary, /is a pickup/);
  // A shift that leaves bar one alone needs no room before it.
  assert.equal(shift(clip, { ms: 30, early: 'pickup' }).clip.pickup, 0);
});

test('what is played late wraps to the beginning, and back by the same', () => {
  const clip = barOf([[1900, 20, 60]]);
  const late = shift(clip, { ms: 50, early: 'wrap' }).clip;
  assert.deepEqual(
    late.notes.map(({ tick }) => tick),
    [28],
  );
  assert.deepEqual(shift(late, { ms: -50, early: 'wrap' }).clip, clip);
});
