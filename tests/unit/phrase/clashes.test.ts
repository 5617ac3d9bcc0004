import assert from 'node:assert/strict';
import { test } from 'node:test';
import { clashesOf } from '../../../src/core/phrase/clashes.ts';
import { barOf } from '../../support/clips.ts';

/** Common practice: a semitone, or a minor ninth, sounding together is a clash; passing by is none. */
test('a semitone or a minor ninth that sounds together clashes; a whole tone, or one after the other, does not', () => {
  const own = barOf([
    [0, 480, 60],
    [480, 480, 64],
    [960, 480, 67],
    [1440, 480, 69],
  ]);
  const other = barOf([
    [0, 480, 61],
    [480, 480, 77],
    [960, 480, 69],
    [1400, 42, 70],
  ]);
  assert.deepEqual(clashesOf(own, [other]), [
    { note: 0, kind: 'semitone', other: 0 },
    { note: 1, kind: 'semitone', other: 0 },
  ]);
});

test('one drum struck by two parts on one beat clashes; another drum, or 60 ms later, does not', () => {
  const kit = barOf([[0, 10, 36], [480, 10, 38], [960, 10, 42]], { role: 'drums' }); // prettier-ignore
  const hand = barOf([[10, 10, 36], [480, 10, 39], [1020, 10, 42]], { role: 'percussion' }); // prettier-ignore
  assert.deepEqual(clashesOf(kit, [hand]), [{ note: 0, kind: 'hit', other: 0 }]);
  assert.deepEqual(clashesOf(kit, [barOf([[0, 480, 37]])]), []);
});

test('parts are compared from bar one, whatever their ticks, and whether they have a pickup', () => {
  const own = barOf([[0, 480, 60]]);
  const other = barOf([[1920 * 2, 960, 61]], {
    pickup: 1920 * 2,
    length: 1920 * 4,
    timeline: { ...own.timeline, ppq: 960 },
  });
  assert.deepEqual(clashesOf(own, [barOf([[480, 480, 65]]), other]), [
    { note: 0, kind: 'semitone', other: 1 },
  ]);
});
