import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { besideInShort, besideOf, readBeside } from '../../../src/core/catalog/beside.ts';
import { phraseFeatures } from '../../../src/core/catalog/features.ts';
import { roomFit } from '../../../src/core/catalog/fit.ts';
import { ROLES } from '../../../src/core/split/roles.ts';
import { clipArbitrary } from '../../support/clips.ts';

test('what is written for an address is read again, to a thousandth', () => {
  const share = fc.integer({ min: 0, max: 1000 }).map((n) => n / 1000);
  const part = fc.record({
    role: fc.constantFrom(...ROLES),
    low: fc.integer({ min: 0, max: 60 }),
    high: fc.integer({ min: 60, max: 127 }),
    places: fc.array(share, { minLength: 8, maxLength: 8 }),
    swing: fc.oneof(fc.constant(-1), share),
  });
  fc.assert(fc.property(part, (one) => assert.deepEqual(readBeside(besideInShort(one)), { ...one })));
});

test('what is no part is none: another role, another count of places, a range upside down, words', () => {
  const right = 'bass.36.48.-1.250.0.250.0.250.0.250.0';
  assert.ok(readBeside(right));
  for (const wrong of [
    '',
    'bass',
    right.replace('bass', 'kettle'),
    `${right}.1`,
    right.replace(/\d+$/, 'x'),
    right.replace(/\d+$/, '1001'),
    right.replace(/^bass\.\d+/, 'bass.120'),
  ])
    assert.equal(readBeside(wrong), null, wrong);
});

test('a part leaves the room that a phrase of its notes leaves', () => {
  fc.assert(
    fc.property(clipArbitrary, clipArbitrary, (candidate, clip) => {
      const [own, part] = [besideOf(candidate), besideOf(clip)];
      const features = phraseFeatures(clip, [], null);
      assert.equal(part === null, features === null);
      if (!own || !part || !features) return;
      const asPhrase = {
        ...{ role: clip.role, low: features.low, high: features.high },
        places: Array.from(part.places, (_, k) => features[`place${k}` as 'place0']!),
      };
      assert.equal(roomFit(own, [part]), roomFit(own, [asPhrase]));
      assert.equal(part.swing, features.swing);
    }),
  );
});
