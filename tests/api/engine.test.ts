import assert from 'node:assert/strict';
import { randomUUID } from 'node:crypto';
import { test } from 'node:test';
import { setTimeout as delay } from 'node:timers/promises';
import { isWorkedOn, takeOver, workOn, type Work } from '../../src/server/jobs/engine.ts';
import { hold, letGo } from '../../src/server/jobs/holds.ts';
import { hearNews } from '../../src/server/live/news.ts';
import type { Progress } from '../../src/server/live/news.ts';
import { library } from '../support/packs.ts';

/** Long work goes in rounds, by one process at a time, and tells how far it is. */

const home = await library();

/** Work of which some rounds wait; what was done is written down. */
function counting(rounds: number, each: () => Promise<void> = async () => {}) {
  const state = { left: rounds, done: 0, runs: 0 };
  const work: Work = {
    kind: 'batch',
    open: async () => (state.left > 0 ? ['piece'] : []),
    run: async (_, __, mayGoOn) => {
      state.runs++;
      while (state.left > 0 && (await mayGoOn(state.done, state.done + state.left))) {
        await each();
        state.left--;
        state.done++;
      }
    },
  };
  return { state, work };
}

/** What is told of a piece while something is done. */
async function toldOf(id: string, act: () => Promise<void>): Promise<Progress[]> {
  const told: Progress[] = [];
  const forget = hearNews((news) => news.type === 'progress' && news.id === id && told.push(news));
  await act();
  // News go their own way.
  await delay(20);
  forget();
  return told;
}

test('a piece is worked on round by round to its end, which is told; not every round is', async () => {
  const id = randomUUID();
  const { state, work } = counting(200);
  const told = await toldOf(id, () => workOn(home, work, id));
  assert.equal(state.done, 200);
  assert.deepEqual(told[0], { type: 'progress', work: 'batch', id, done: 0, of: 200 });
  assert.deepEqual(told.at(-1), { type: 'progress', work: 'batch', id, isOver: true });
  assert.ok(told.length < 50, `${told.length} times`);
  assert.equal(isWorkedOn('batch', id), false);
});

test('asked for again while it runs, it is looked through once more, and by one at a time', async () => {
  const id = randomUUID();
  let atOnce = 0;
  let most = 0;
  const { state, work } = counting(3, async () => {
    most = Math.max(most, ++atOnce);
    await delay(5);
    atOnce--;
  });
  const first = workOn(home, work, id);
  await delay(1);
  state.left += 2;
  const second = workOn(home, work, id);
  assert.equal(second, first);
  await second;
  assert.deepEqual([state.done, state.runs, most], [5, 2, 1]);
});

test('what another process has is left to it, and taken over where that lets it go', async () => {
  const { state, work } = counting(1);
  // Another's name, as it stands in the table.
  const other = randomUUID();
  await home.db.execute(`insert into workers (id) values ('${other}')`);
  await home.db.execute(`insert into holds (what, worker_id) values ('batch piece', '${other}')`);
  await workOn(home, work, 'piece');
  assert.equal(state.done, 0);
  await home.db.execute(`delete from holds where worker_id = '${other}'`);
  await takeOver(home, [work]);
  await workOn(home, work, 'piece');
  assert.equal(state.done, 1);
  assert.ok(await hold(home, 'batch piece'), 'it is free again');
  await letGo(home, 'batch piece');
});

test('a database that is away ends the work for now, and whoever looks next goes on; what nobody foresaw is an error', async (t) => {
  t.mock.method(console, 'error', () => {});
  let fails = true;
  const { state, work } = counting(3, async () => {
    if (state.done === 1 && fails) throw Object.assign(new Error('no'), { code: 'ECONNREFUSED' });
  });
  await workOn(home, work, 'piece');
  assert.equal(state.done, 1);
  fails = false;
  await takeOver(home, [work]);
  await workOn(home, work, 'piece');
  assert.equal(state.done, 3);
  const { work: wrong } = counting(1, () => Promise.reject(new Error('a mistake of ours')));
  await assert.rejects(workOn(home, wrong, randomUUID()), /a mistake of ours/);
});
