import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { packSwatch, unpackSwatch } from '../../../src/core/phrase/swatch.ts';
import { barOf, clipArbitrary } from '../../support/clips.ts';

test('a swatch shows where notes start, how long they are and how high they stand', () => {
  const notes = unpackSwatch(
    packSwatch(
      barOf([
        [0, 960, 60],
        [960, 480, 72],
      ]),
    ),
  );
  assert.equal(notes.length, 2);
  assert.ok(Math.abs(notes[0]!.width - 0.5) < 0.01);
  assert.ok(Math.abs(notes[1]!.x - 0.5) < 0.01);
  assert.ok(notes[1]!.y > notes[0]!.y);
});

test('drums stand on the lanes of their kit: the kick on the floor, the crash on top', () => {
  const kit = barOf(
    [
      [0, 10, 49],
      [480, 10, 38],
      [960, 10, 36],
    ],
    { role: 'drums' },
  );
  const [crash, snare, kick] = unpackSwatch(packSwatch(kit)).map(({ y }) => y);
  assert.ok(crash! > snare! && snare! > kick!);
  assert.deepEqual([crash, kick], [1, 0]);
});

test('every swatch stays within its frame and within a bound of bytes, whatever the phrase', () => {
  fc.assert(
    fc.property(clipArbitrary, (clip) => {
      const bytes = packSwatch(clip);
      assert.ok(bytes.length <= 3 * 400);
      for (const { x, width, y } of unpackSwatch(bytes)) {
        for (const value of [x, width, y]) assert.ok(value >= 0 && value <= 1);
      }
    }),
  );
  const dense = barOf(Array.from({ length: 3000 }, (_, i) => [i % 1920, 1, 40 + (i % 40)] as const));
  assert.ok(packSwatch(dense).length <= 1200);
});
