import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { CLOSEST, panned, pixelsFor, timeScale, zoomed } from '../../../src/ui/drawing/time-window.ts';
import { transformOf, windowOf } from '../../../src/ui/drawing/use-time-zoom.ts';

test('a window zooms around a point and never leaves the music', () => {
  const all = { fromTick: 0, toTick: 10_000 };
  const closer = zoomed(all, 5000, 0.5, 10_000);
  assert.deepEqual(closer, { fromTick: 2500, toTick: 7500 });
  assert.deepEqual(zoomed(closer, 5000, 4, 10_000), all);
  assert.deepEqual(panned(closer, -9000, 10_000), { fromTick: 0, toTick: 5000 });
  assert.deepEqual(panned(closer, 9000, 10_000), { fromTick: 5000, toTick: 10_000 });
  assert.ok(zoomed(all, 0, 1e-9, 10_000).toTick >= CLOSEST);
});

const windows = fc
  .record({
    endTick: fc.integer({ min: 2 * CLOSEST, max: 500_000 }),
    from: fc.double({ min: 0, max: 1, noNaN: true }),
    span: fc.double({ min: 0, max: 1, noNaN: true }),
  })
  .map(({ endTick, from, span }) => {
    const ticks = CLOSEST + span * (endTick - CLOSEST);
    return {
      endTick,
      window: panned({ fromTick: from * endTick, toTick: from * endTick + ticks }, 0, endTick),
    };
  });

test('what the wheel starts from is the window that keys and buttons left', () => {
  fc.assert(
    fc.property(windows, fc.integer({ min: 50, max: 3000 }), ({ endTick, window }, width) => {
      const whole = timeScale({ fromTick: 0, toTick: endTick }, width, 196);
      const back = windowOf(transformOf(window, whole), whole);
      assert.ok(Math.abs(back.fromTick - window.fromTick) < 1e-6 * endTick);
      assert.ok(Math.abs(back.toTick - window.toTick) < 1e-6 * endTick);
    }),
  );
});

test('a tick stands where its pixel says, and as wide as its length', () => {
  fc.assert(
    fc.property(windows, fc.integer({ min: 50, max: 3000 }), ({ window }, width) => {
      const x = timeScale(window, width);
      const middle = (window.fromTick + window.toTick) / 2;
      assert.ok(Math.abs(x(middle) - width / 2) < 1e-6 * width);
      assert.ok(Math.abs(x.invert(x(middle)) - middle) < 1e-6 * middle);
      assert.ok(Math.abs(pixelsFor(x, 480) - (x(window.fromTick + 480) - x(window.fromTick))) < 1e-6);
    }),
  );
});
