import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import {
  barMs,
  barStart,
  barTicks,
  barsUntil,
  beatMs,
  makeTimeline,
  meantBar,
  meterAt,
  msPerQuarter,
  positionAt,
  secondsToTicks,
  steadyTimeline,
  tempoAt,
  tickOf,
  ticksToSeconds,
} from '../../../src/core/music/timeline.ts';

test('at 120 BPM and 480 ticks a quarter, a second is 960 ticks', () => {
  const timeline = steadyTimeline(480, 120);
  assert.equal(ticksToSeconds(timeline, 960), 1);
  assert.equal(secondsToTicks(timeline, 2.5), 2400);
});

test('a tempo change counts from its own tick', () => {
  const timeline = makeTimeline(
    480,
    [
      { tick: 0, microseconds: 500_000 },
      { tick: 960, microseconds: 1_000_000 },
    ],
    [],
  );
  assert.equal(ticksToSeconds(timeline, 960), 1);
  assert.equal(ticksToSeconds(timeline, 1440), 2);
  assert.equal(secondsToTicks(timeline, 2), 1440);
});

test('bars follow the meter, and a meter change inside a bar starts a new one', () => {
  const timeline = makeTimeline(
    480,
    [],
    [
      { tick: 0, numerator: 3, denominator: 4 },
      { tick: 2880, numerator: 6, denominator: 8 },
      { tick: 5000, numerator: 4, denominator: 4 },
    ],
  );
  // Two bars of 3/4 (1440 each), two of 6/8 (1440 each, the second cut), then 4/4.
  assert.deepEqual(
    [1, 2, 3, 4, 5, 6].map((bar) => barStart(timeline, bar)),
    [0, 1440, 2880, 4320, 5000, 6920],
  );
  assert.deepEqual(positionAt(timeline, 2880 + 240), { bar: 3, beat: 2, tick: 0 });
  assert.deepEqual(positionAt(timeline, 5000 + 490), { bar: 5, beat: 2, tick: 10 });
  assert.equal(barsUntil(timeline, 0), 0);
  assert.equal(barsUntil(timeline, 1440), 1);
  assert.equal(barsUntil(timeline, 1441), 2);
});

const changes = fc.array(
  fc.record({
    tick: fc.nat(50_000),
    microseconds: fc.integer({ min: 200_000, max: 2_000_000 }),
    numerator: fc.integer({ min: 1, max: 12 }),
    denominator: fc.constantFrom(2, 4, 8, 16),
  }),
  { maxLength: 6 },
);

test('ticks to seconds and to bars and back again, whatever the maps', () => {
  fc.assert(
    fc.property(changes, fc.nat(100_000), (list, tick) => {
      const timeline = makeTimeline(480, list, list);
      assert.ok(Math.abs(secondsToTicks(timeline, ticksToSeconds(timeline, tick)) - tick) < 1e-6);
      assert.equal(tickOf(timeline, positionAt(timeline, tick)), tick);
      const { bar } = positionAt(timeline, tick);
      assert.ok(barStart(timeline, bar) <= tick && tick < barStart(timeline, bar + 1));
    }),
  );
});

test('whatever the maps, the answers are those of counting from the beginning, change by change', () => {
  fc.assert(
    fc.property(changes, fc.nat(100_000), (list, tick) => {
      const timeline = makeTimeline(480, list, list);
      // The plain way: the last change at or before the tick, bars counted one after the other.
      assert.deepEqual(
        tempoAt(timeline, tick),
        timeline.tempos.findLast((change) => change.tick <= tick),
      );
      assert.deepEqual(
        meterAt(timeline, tick),
        timeline.meters.findLast((change) => change.tick <= tick),
      );
      let seconds = 0;
      for (const [i, { tick: from, microseconds }] of timeline.tempos.entries()) {
        const to = Math.min(tick, timeline.tempos[i + 1]?.tick ?? Infinity);
        if (to > from) seconds += ((to - from) / 480) * (microseconds / 1e6);
      }
      assert.ok(Math.abs(ticksToSeconds(timeline, tick) - seconds) < 1e-6);
      let [bar, start] = [1, 0];
      for (;;) {
        const meter = timeline.meters.findLast((change) => change.tick <= start)!;
        const cut = timeline.meters.find((change) => change.tick > start)?.tick ?? Infinity;
        const next = Math.min(start + barTicks(480, meter), cut);
        assert.equal(barStart(timeline, bar), start);
        if (next > tick) break;
        [bar, start] = [bar + 1, next];
      }
      assert.equal(positionAt(timeline, tick).bar, bar);
    }),
    { numRuns: 60 },
  );
});

test('a bar lasts 2.667 s at 90 BPM in 4/4 and 2.034 s at 118 (library.md, "By ear"); what counts one thing is not given for another', () => {
  const common = { numerator: 4, denominator: 4 };
  assert.equal(Math.round(barMs(90, common)), 2667);
  assert.equal(Math.round(barMs(118, common)), 2034);
  assert.equal(beatMs(120, { denominator: 8 }), 250);
  // @ts-expect-error: milliseconds are no ticks, and it is the type checker that says so.
  barTicks(msPerQuarter(96), common);
  // @ts-expect-error: nor is a bar a tick.
  tempoAt(steadyTimeline(480, 120), meantBar(steadyTimeline(480, 120), 0));
});
