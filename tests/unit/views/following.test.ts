import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { planned } from '../../../src/views/shared/listening/following.ts';

const styleOf = (tick: number) => ({ transform: `translateX(${tick}px)` });
const tickOf = ({ transform }: Keyframe) => Number(/\((.+)px\)/.exec(String(transform))![1]);

test('a plan goes forward with the music, from now to its end', () => {
  const frames = planned((seconds) => 960 * seconds, styleOf);
  assert.equal(frames[0]!.offset, 0);
  assert.equal(frames.at(-1)!.offset, 1);
  assert.deepEqual(
    frames.map((frame) => Math.round(tickOf(frame))),
    frames.map(({ offset }) => Math.round(576 * offset!)),
  );
});

test('where the music begins anew, it jumps: between two places in time it never runs back', () => {
  const round = fc.integer({ min: 200, max: 20_000 });
  const speed = fc.integer({ min: 100, max: 4000 });
  const from = fc.double({ min: 0, max: 1, noNaN: true });
  fc.assert(
    fc.property(round, speed, from, (length, perSecond, share) => {
      const tickLater = (seconds: number) => (share * length + perSecond * seconds) % length;
      const frames = planned(tickLater, styleOf);
      frames.slice(1).forEach((frame, k) => {
        const before = frames[k]!;
        assert.ok(frame.offset! >= before.offset!, 'in order');
        if (tickOf(frame) < tickOf(before)) assert.equal(frame.offset, before.offset, 'a jump takes no time');
      });
    }),
  );
});
