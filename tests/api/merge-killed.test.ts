import assert from 'node:assert/strict';
import { test } from 'node:test';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import { bandFile } from '../../src/core/standins/band.ts';
import type { Library } from '../../src/server/db/client.ts';
import { makePhrases } from '../../src/server/library/phrases/make-phrases.ts';
import { takeIn } from '../../src/server/library/takes/takes.ts';
import { slowly } from '../support/slow.ts';
import { apiClient, type Api } from '../support/api.ts';
import { listenTo } from '../support/news.ts';
import { library, packed } from '../support/packs.ts';
import { startTestServer } from '../support/server.ts';
import { until } from '../support/until.ts';

/** A merge whose process is killed goes on by itself; stopped by hand it does not. */

const TAKES = 10;

async function manyPhrases(home: Library): Promise<string[]> {
  const ids: string[] = [];
  for (let seed = 1; seed <= TAKES; seed++) {
    const band = bandFile({ chart: 'Em | Am | B7 | Em', style: 'river', bpm: 90 + seed, seed, title: `Ferry ${seed}` }); // prettier-ignore
    const { takeIds } = await takeIn(home, { bytes: writeMidiFile(band), fileName: `ferry ${seed}.mid` });
    const made = await makePhrases(home.db, { takeId: takeIds[0]!, startBar: 1, bars: 4, keep: true, parts: ['p1', 'p2', 'p3'] }); // prettier-ignore
    ids.push(...made.phraseIds);
  }
  return ids;
}

/** A server with the pack laid down, and how many phrases it has. */
async function withPack(zip: Uint8Array) {
  const server = await startTestServer();
  const api = apiClient(server.address);
  const { body } = await api.sendFile('/api/merge', zip, 'pack.zip');
  return { server, api, path: `/api/merge/${body.id}` };
}

const countOf = async (api: Api) => (await api.get('/api/phrases/ids')).body.phraseIds.length as number;

test('killed in the middle, a merge goes on at the next start: each phrase once', slowly(), async () => {
  const home = await library();
  const begun = await withPack(await packed(home, await manyPhrases(home)));
  begun.api.post(begun.path, { all: 'child' }).catch(() => {});
  await until('some are taken', async () => (await countOf(begun.api)) >= 3, { every: 5 });
  begun.server.process.kill('SIGKILL');
  const server = await startTestServer({ dataDirectory: begun.server.dataDirectory });
  try {
    const api = apiClient(server.address);
    assert.ok((await countOf(api)) < 3 * TAKES, 'it was killed in the middle');
    await until('all are taken', async () => (await countOf(api)) === 3 * TAKES, {
      within: 60_000,
      every: 100,
    });
    const { rows } = (await api.get(begun.path)).body;
    assert.ok(rows.every(({ fate }: { fate: string }) => fate === 'same'));
  } finally {
    await server.remove();
  }
});

test('stopped by hand in the middle, it does not go on by itself', slowly(), async () => {
  const home = await library();
  const { server, api, path } = await withPack(await packed(home, await manyPhrases(home)));
  try {
    const news = await listenTo(server.address);
    const stopping = new AbortController();
    const init = { headers: { 'content-type': 'application/json' }, body: JSON.stringify({ all: 'child' }), signal: stopping.signal }; // prettier-ignore
    api.send('POST', path, init).catch(() => {});
    await until('some are taken', async () => (await countOf(api)) >= 3, { every: 5 });
    stopping.abort();
    await news.hears('that it has stopped', ({ data }) => data.work === 'merge' && data.isOver);
    await news.end();
    const stopped = await countOf(api);
    assert.ok(stopped < 3 * TAKES);
    // Longer than it is between two looks for what was left.
    await new Promise((resolve) => setTimeout(resolve, 5000));
    assert.equal(await countOf(api), stopped);
  } finally {
    await server.remove();
  }
});
