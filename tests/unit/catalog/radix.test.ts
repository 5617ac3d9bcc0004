import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { stablyBy, wholeNumber } from '../../../src/core/catalog/radix.ts';

test('places come in the order of their numbers, those of one number as they stood: what a comparing sort that is stable says (ECMA-262, Array.prototype.sort)', () => {
  const number = fc.oneof(fc.nat(3), fc.integer({ min: 0, max: 2 ** 32 - 1 }), fc.constant(2 ** 32 - 1));
  fc.assert(
    fc.property(fc.array(number, { maxLength: 200 }), (numbers) => {
      const places = numbers.map((_, k) => numbers.length - k);
      const expected = places
        .map((place, k) => ({ place, number: numbers[k]! }))
        .sort((a, b) => a.number - b.number)
        .map(({ place }) => place);
      const given = Uint32Array.from(numbers);
      assert.deepEqual([...stablyBy(given, Int32Array.from(places))], expected);
      assert.deepEqual([...given], numbers, 'what was given is not touched');
    }),
  );
});

test('what is no whole number from 0 to 2^32 - 1 is the nearest', () => {
  assert.deepEqual([-5, 0.4, 0.6, 2 ** 40, 2 ** 32 - 1].map(wholeNumber), [
    0,
    0,
    1,
    2 ** 32 - 1,
    2 ** 32 - 1,
  ]);
});
