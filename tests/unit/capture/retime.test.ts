import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import {
  isRetiming,
  originalTick,
  pulled,
  pushed,
  retimedTick,
  retimeTake,
  scaled,
  takeAsCaptured,
} from '../../../src/core/capture/retime.ts';
import { barStart, bpmOf, tempoAt, ticksToSeconds } from '../../../src/core/music/timeline.ts';
import { takeOf, trackOf, type NoteSpec } from '../../support/midi.ts';

const notes: NoteSpec[] = Array.from({ length: 40 }, (_, i) => [i * 300 + (i % 3) * 7, 200, 60 + (i % 12)]);
const take = takeOf([trackOf(notes)]);

/** Anchors from beats that come at uneven times. */
const beats = fc
  .array(fc.integer({ min: 150, max: 900 }), { minLength: 2, maxLength: 30 })
  .map((steps) =>
    steps.reduce<[number, number][]>(
      (all, step) => [...all, [all.at(-1)![0] + step, all.length * 480]],
      [[0, 0]],
    ),
  );

test('on other bars every note sounds when it sounded', () => {
  fc.assert(
    fc.property(beats, (anchors) => {
      const moved = retimeTake(take, { anchors });
      const seconds = (one: typeof take, i: number) =>
        ticksToSeconds(one.timing.timeline, one.notes.tick[i]!);
      assert.equal(moved.notes.length, take.notes.length);
      for (let i = 0; i < take.notes.length; i++) {
        const fastest = Math.min(...anchors.slice(1).map(([from], k) => from - anchors[k]![0])) / 480;
        // A new tick lasts as long as an old one at the most so many times.
        assert.ok(
          Math.abs(seconds(moved, i) - seconds(take, i)) < (0.002 * 480) / (150 * Math.min(1, fastest)),
        );
        assert.ok(moved.notes.duration[i]! >= 1);
      }
    }),
    { numRuns: 60 },
  );
});

test('a beat of the take is a beat of the bars', () => {
  const anchors: [number, number][] = [[30, 0], [530, 480], [1080, 960], [1700, 1440]]; // prettier-ignore
  const moved = retimeTake(take, { anchors, meter: { numerator: 3, denominator: 4 } });
  for (const [from, to] of anchors) assert.equal(Math.round(retimedTick({ anchors }, from)), to);
  assert.equal(barStart(moved.timing.timeline, 2), 1440);
  // 500 ticks at 120 BPM and 480 ticks a quarter are 0.52 s: 115.2 BPM.
  assert.ok(Math.abs(bpmOf(tempoAt(moved.timing.timeline, 10).microseconds) - 115.2) < 0.01);
});

test('pulled back, double and half time, and back again', () => {
  const early = retimeTake(take, pulled(700));
  assert.equal(early.notes.tick[3]!, take.notes.tick[3]! - 700);
  assert.equal(early.notes.tick[0], 0);
  const late = retimeTake(take, pushed(480));
  assert.equal(late.notes.tick[0], 480);
  const double = retimeTake(take, scaled(2));
  assert.equal(double.notes.tick[5], 2 * take.notes.tick[5]!);
  assert.equal(bpmOf(tempoAt(double.timing.timeline, 0).microseconds), 240);
  const again = retimeTake(double, scaled(0.5));
  assert.deepEqual(again.notes.tick, take.notes.tick);
  assert.deepEqual(again.notes.duration, take.notes.duration);
});

test('as captured is the very take that came in, whatever was done to its time', () => {
  fc.assert(
    fc.property(beats, fc.integer({ min: 0, max: 2000 }), (anchors, lag) => {
      const moved = retimeTake(retimeTake(take, { anchors }), pulled(lag));
      const back = takeAsCaptured(moved);
      assert.equal(back.file, take.file);
      assert.equal(back.timing, take.timing);
      assert.deepEqual(back.notes, take.notes);
    }),
    { numRuns: 30 },
  );
});

test('there and back: an old tick comes from its new one', () => {
  fc.assert(
    fc.property(beats, fc.integer({ min: 0, max: 20_000 }), (anchors, tick) => {
      assert.ok(
        Math.abs(originalTick({ anchors }, retimedTick({ anchors }, tick)) - tick) < 1e-6 * (1 + tick),
      );
    }),
  );
});

test('anchors that go backward, or nowhere, are none', () => {
  assert.ok(isRetiming(pulled(480)) && isRetiming(pushed(480)) && isRetiming(scaled(2)));
  assert.ok(!isRetiming({ anchors: [[0, 0]] }));
  assert.ok(!isRetiming({ anchors: [[0, 0], [0, 480]] })); // prettier-ignore
  assert.ok(!isRetiming({ anchors: [[0, 480], [480, 0]] })); // prettier-ignore
  assert.ok(!isRetiming({ anchors: [[0, 0], [480, 0]] })); // prettier-ignore
});
