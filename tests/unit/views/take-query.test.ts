import assert from 'node:assert/strict';
import { test } from 'node:test';
import { TAKE_SORTS } from '../../../src/server/library/takes/take-list.ts';
import { orderOf, orderParams, TAKE_ORDERS } from '../../../src/views/capture/take-query.ts';

const told = (sort: string, turned: string) => orderOf({ get: (name) => (name === 'sort' ? sort : turned) });

test('an order is in the address, either way, and comes back from it', () => {
  for (const id of Object.keys(TAKE_ORDERS))
    for (const desc of [false, true]) {
      const { sort, turned } = orderParams({ id, desc });
      assert.deepEqual(told(sort, turned), { id, desc });
    }
  assert.deepEqual(orderParams(null), { sort: '', turned: '' });
  assert.deepEqual(told('', ''), { id: 'newest', desc: true });
  assert.deepEqual(told('taste', ''), { id: 'newest', desc: true });
});

test('the orders of the page are those that the server knows', () => {
  assert.deepEqual(Object.keys(TAKE_ORDERS), [...TAKE_SORTS]);
});
