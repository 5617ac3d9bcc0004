import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { packIndices, packTable, unpackIndices } from '../../../src/core/phrase/pack.ts';

const indices = fc.array(fc.oneof(fc.nat(300), fc.nat(2 ** 31 - 1)), { maxLength: 60 });

test('indices come back as they were packed, in any order; so do those that were packed as a table before', () => {
  fc.assert(
    fc.property(indices, (all) => {
      assert.deepEqual(unpackIndices(packIndices(all)), all);
      assert.deepEqual(unpackIndices(packTable([all])), all);
    }),
  );
});

test('indices that go up by little take a byte each', () => {
  const all = Array.from({ length: 240 }, (_, k) => 3 * k);
  assert.equal(packIndices(all).length, 4 + all.length);
});

test('bytes that end within an index, or are nothing of the kind, are refused', () => {
  assert.throws(() => unpackIndices(packIndices([5, 9000]).slice(0, -1)), RangeError);
  assert.throws(() => unpackIndices(Uint8Array.of(9, 9, 9)), RangeError);
});
