import assert from 'node:assert/strict';
import { test } from 'node:test';
import { findTakeKey } from '../../../src/core/analyze/take-key.ts';
import { findKeys } from '../../../src/core/analyze/key.ts';
import { keyName } from '../../../src/core/music/key.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import { takeFrom } from '../../../src/core/capture/take.ts';
import { bandFile } from '../../../src/core/standins/band.ts';
import { takeOf, trackOf } from '../../support/midi.ts';

/** Scales as handbooks give them: natural minor and major, tonic and fifth a little longer. */
const MAJOR = [0, 2, 4, 5, 7, 9, 11];
const MINOR = [0, 2, 3, 5, 7, 8, 10];

test('every scale with weight on tonic and fifth is found in its own key', () => {
  for (let tonic = 0; tonic < 12; tonic++) {
    for (const [mode, scale] of [
      ['major', MAJOR],
      ['minor', MINOR],
    ] as const) {
      const durations = new Float64Array(12);
      for (const degree of scale) {
        durations[(degree + tonic) % 12] = degree === 0 ? 3 : degree === 7 ? 2 : 1;
      }
      const [best] = findKeys(durations);
      assert.deepEqual([best!.tonic, best!.mode], [tonic, mode]);
    }
  }
});

test('certainties add up to one, and nothing is claimed where nothing sounds', () => {
  const keys = findKeys([5, 0, 2, 0, 3, 1, 0, 4, 0, 1, 0, 1]);
  assert.equal(keys.length, 24);
  assert.ok(Math.abs(keys.reduce((sum, key) => sum + key.certainty, 0) - 1) < 1e-9);
  assert.deepEqual(findKeys(new Float64Array(12)), []);
});

test('a band playing common progressions is heard in its key, in all twelve', () => {
  const tonics = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'];
  let right = 0;
  for (const [i, tonic] of tonics.entries()) {
    const degree = (steps: number) => tonics[(i + steps) % 12]!;
    const chart = `${tonic} | ${degree(9)}m | ${degree(5)} | ${degree(7)}7`;
    const take = takeFrom(
      bandFile({ chart: `${chart} | ${chart}`, style: 'river', bpm: 90, seed: i, title: 'x' }),
    );
    const key = findTakeKey(take, splitTake(take))[0]!;
    if (key.tonic === i && key.mode === 'major') right++;
  }
  assert.equal(right, 12);
});

test('drums do not count', () => {
  const tune = trackOf([60, 62, 64, 65, 67, 69, 71, 72].map((pitch, i) => [i * 480, 480, pitch] as const));
  const drums = trackOf(Array.from({ length: 64 }, (_, i) => [i * 60, 480, 42, 90, 9] as const));
  const take = takeOf([tune, drums]);
  assert.equal(keyName(findTakeKey(take, splitTake(take))[0]!), 'C major');
});
