import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { maximalSubsequences } from '../../../src/core/analyze/subsequences.ts';

/** Ruzzo & Tompa 1999, "A linear time algorithm for finding all maximal scoring subsequences" (ISMB). */

test('their example: 4, -5, 3, -3, 1, 2, -2, 2, -2, 1, 5 has three (from memory)', () => {
  assert.deepEqual(maximalSubsequences([4, -5, 3, -3, 1, 2, -2, 2, -2, 1, 5]), [
    [0, 1],
    [2, 3],
    [4, 11],
  ]);
});

const scores = fc.array(fc.integer({ min: -5, max: 5 }), { maxLength: 24 });
const sum = (values: readonly number[], from: number, to: number) =>
  values.slice(from, to).reduce((all, value) => all + value, 0);

test('the best of them is the best of all stretches; they do not touch what is positive outside', () =>
  fc.assert(
    fc.property(scores, (values) => {
      const found = maximalSubsequences(values);
      let best = 0;
      for (let from = 0; from < values.length; from++)
        for (let to = from + 1; to <= values.length; to++) best = Math.max(best, sum(values, from, to));
      assert.equal(Math.max(0, ...found.map(([from, to]) => sum(values, from, to))), best);
      for (const [k, value] of values.entries())
        assert.equal(value > 0 ? found.filter(([from, to]) => from <= k && k < to).length : 1, 1);
    }),
  ));

test('each is more than any of its beginnings and ends: none could be cut to score more', () =>
  fc.assert(
    fc.property(scores, (values) => {
      for (const [from, to] of maximalSubsequences(values))
        for (let cut = from + 1; cut < to; cut++) {
          assert.ok(sum(values, from, cut) > 0);
          assert.ok(sum(values, cut, to) > 0);
        }
    }),
  ));
