import assert from 'node:assert/strict';
import { once } from 'node:events';
import { test } from 'node:test';
import { bandFile } from '../../src/core/standins/band.ts';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import { slowly } from '../support/slow.ts';
import { apiClient, assertProblem, type Api } from '../support/api.ts';
import { listenTo } from '../support/news.ts';
import { startTestServer } from '../support/server.ts';
import { serverForTests } from '../support/suite.ts';
import { until } from '../support/until.ts';

/** Drafts of many takes at once: made on the server whatever becomes of the page, stopped, gone on with after a kill, nothing twice. */

/** Of the band in this style. */
const PARTS = 7;

/** As many as are not made before the process is killed. */
const TAKES = 10;

const { server, api } = await serverForTests();

async function takesOf(client: Api, count: number): Promise<string[]> {
  const ids: string[] = [];
  for (let seed = 1; seed <= count; seed++) {
    const band = bandFile({ chart: 'Dm | Gm | A7 | Dm', style: 'market', bpm: 100 + seed, seed, title: `Quay ${seed}` }); // prettier-ignore
    const { body } = await client.sendFile('/api/takes', writeMidiFile(band), `quay ${seed}.mid`);
    ids.push(body.takeIds[0]);
  }
  return ids;
}

const making = async (client: Api) => (await client.get('/api/makings')).body.making;

const ended = (client: Api) =>
  until('the drafts are made', async () => ((await making(client)).state === 'running' ? false : making(client)), { within: 60_000, every: 50 }); // prettier-ignore

test('all bars of every part of each take become drafts, and it is told when it is over', async () => {
  assert.equal(await making(api), null);
  const takeIds = await takesOf(api, 3);
  const news = await listenTo(server.address);
  const { status, body } = await api.post('/api/makings', { takeIds, projectId: null });
  assert.equal(status, 201, JSON.stringify(body));
  const done = await ended(api);
  assert.deepEqual([done.state, done.of, done.done, done.refused], ['done', 3, 3, []]);
  assert.equal(new Set(done.phraseIds).size, 3 * PARTS);
  const { body: phrase } = await api.get(`/api/phrases/${done.phraseIds[0]}`);
  assert.equal(phrase.state, 'draft');
  await news.hears('that it is over', ({ data }) => data.work === 'making' && data.id === body.id && data.isOver); // prettier-ignore
  await news.end();
});

test('takes that are not there, none and too many are refused with a sentence', async () => {
  assertProblem(await api.post('/api/makings', { takeIds: [], projectId: null }), 400, /at least one take/);
  const nowhere = '0a0a0a0a-0a0a-4a0a-8a0a-0a0a0a0a0a0a';
  assertProblem(await api.post('/api/makings', { takeIds: [nowhere], projectId: null }), 404, /take/);
  assertProblem(await api.post(`/api/makings/${nowhere}/stop`, {}), 404, /making/);
  const takeIds = Array.from({ length: 10_001 }, () => nowhere);
  assertProblem(await api.post('/api/makings', { takeIds, projectId: null }), 400, /10,000 takes/);
});

test(
  'stopped, what was made stays; killed in the middle, it goes on at the next start with nothing there twice',
  slowly(),
  async () => {
    let own = await startTestServer();
    try {
      const first = apiClient(own.address);
      const takeIds = await takesOf(first, TAKES);
      const { body } = await first.post('/api/makings', { takeIds, projectId: null });
      await until('some are made', async () => (await making(first)).done >= 2, { within: 30_000, every: 5 });
      await first.post(`/api/makings/${body.id}/stop`, {});
      const stopped = await making(first);
      assert.equal(stopped.state, 'stopped');
      assert.ok(stopped.done < TAKES, `${stopped.done} of ${TAKES}`);
      await first.post('/api/makings', { takeIds, projectId: null });
      await until('some are made', async () => (await making(first)).done >= 2, { within: 30_000, every: 5 });
      const ends = once(own.process, 'exit');
      own.process.kill('SIGKILL');
      await ends;
      own = await startTestServer({ dataDirectory: own.dataDirectory });
      const again = apiClient(own.address);
      assert.ok((await making(again)).done < TAKES, 'it was killed in the middle');
      const done = await ended(again);
      assert.deepEqual([done.done, done.phraseIds.length], [TAKES, TAKES * PARTS]);
      const drafts = (await again.get('/api/phrases?state=draft&limit=200')).body;
      // Of the one that was stopped, one take more may have been under way.
      assert.ok(drafts.total - TAKES * PARTS <= (stopped.done + 1) * PARTS, `${drafts.total} drafts`);
    } finally {
      await own.remove();
    }
  },
);
