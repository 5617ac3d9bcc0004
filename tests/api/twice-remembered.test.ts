import assert from 'node:assert/strict';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { test } from 'node:test';
import pg from 'pg';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import { bandFile } from '../../src/core/standins/band.ts';
import { apiClient, type Api } from '../support/api.ts';
import { databaseFor, startTestServer } from '../support/server.ts';
import { until } from '../support/until.ts';

/** A take of the band at a tempo, and its bass kept: four bars. */
async function kept(api: Api, bpm: number): Promise<string> {
  const file = bandFile({ chart: 'F | Bb | C7 | F', style: 'river', bpm, seed: 7, title: `Ferry at ${bpm}` });
  const { body } = await api.upload(writeMidiFile(file), `ferry_at_${bpm}.mid`);
  const request = { takeId: body.takeIds[0], parts: ['p2'], startBar: 1, bars: 4, keep: true };
  return (await api.post('/api/phrases', request)).body.phraseIds[0] as string;
}

interface Twice {
  state: string;
  at: string | null;
  groups: { phrase: { id: string } }[][];
}

const twice = async (api: Api): Promise<Twice> => (await api.get('/api/twice')).body as Twice;
const idsOf = ({ groups }: Twice) => groups.map((group) => group.map(({ phrase }) => phrase.id).sort());

async function lookThrough(api: Api): Promise<Twice> {
  await api.post('/api/twice', {});
  return until('the library is looked through', async () => {
    const now = await twice(api);
    return now.state === 'done' && now;
  });
}

/** On PostgreSQL, a transaction of somebody else's that has begun and not ended; the built-in database has one client. */
async function openTransaction(dataDirectory: string): Promise<pg.Client | null> {
  const { DATABASE_URL } = await databaseFor(dataDirectory);
  if (!DATABASE_URL) return null;
  const client = new pg.Client(DATABASE_URL);
  await client.connect();
  await client.query('begin');
  await client.query('select pg_current_xact_id()');
  return client;
}

test('what is there twice is known after a restart; what has changed since is held against each other again', async () => {
  let server = await startTestServer();
  const { dataDirectory } = server;
  let api = apiClient(server.address);
  try {
    const ids = [await kept(api, 110), await kept(api, 80), await kept(api, 132)];
    assert.deepEqual([(await twice(api)).state, (await twice(api)).groups], ['never', []]);
    const found = await lookThrough(api);
    assert.deepEqual(idsOf(found), [[...ids].sort()]);

    await server.stop();
    server = await startTestServer({ dataDirectory });
    api = apiClient(server.address);
    const after = await twice(api);
    assert.deepEqual([after.state, after.at, idsOf(after)], ['done', found.at, idsOf(found)]);

    const open = await openTransaction(dataDirectory);
    assert.deepEqual(idsOf(await twice(api)), idsOf(found));

    // One bar of it is another phrase.
    const { name, role, takeKey, recipe } = (await api.get(`/api/phrases/${ids[2]}`)).body;
    const steps = recipe.steps.map((step: { step: string }) =>
      step.step === 'bars' ? { ...step, start: 1, count: 1 } : step,
    );
    const change = {
      name,
      role,
      takeKey,
      recipe: { ...recipe, steps },
      tags: [],
      projectId: null,
      rights: '',
      state: 'kept',
    };
    assert.equal((await api.put(`/api/phrases/${ids[2]}`, change)).status, 200);
    assert.deepEqual(idsOf(await twice(api)), [ids.slice(0, 2).sort()]);
    await open?.end();

    await server.stop();
    writeFileSync(join(dataDirectory, 'twice.json'), '{"made": "otherwise", "links": 3');
    server = await startTestServer({ dataDirectory });
    api = apiClient(server.address);
    assert.equal((await twice(api)).state, 'never', 'what is damaged is as good as none');
    assert.deepEqual(idsOf(await lookThrough(api)), [ids.slice(0, 2).sort()]);
  } finally {
    await server.remove();
  }
});
