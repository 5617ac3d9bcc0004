import assert from 'node:assert/strict';
import { rmSync } from 'node:fs';
import { test } from 'node:test';
import { setTimeout } from 'node:timers/promises';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import { bandFile } from '../../src/core/standins/band.ts';
import { openLibrary, type Db } from '../../src/server/db/client.ts';
import { awayProblem } from '../../src/server/library/errors.ts';
import { apiClient, assertProblem } from '../support/api.ts';
import { wayThatBreaks } from '../support/cut.ts';
import { listenTo } from '../support/news.ts';
import { databaseFor, emptyLibrary, startTestServer } from '../support/server.ts';
import { until } from '../support/until.ts';

/** Several processes on one library: what one does the others tell, and what one was at another goes on with when it dies. */

const onPostgres = process.env.TEST_DATABASE_URL !== undefined;
const options = { skip: onPostgres ? false : 'needs a PostgreSQL server' };

/** How long the database is away, in milliseconds; the specification says ten seconds. */
const AWAY = Number(process.env.AWAY_MS ?? 4000);

const file = (seed: number) => ({
  name: `ferry_${seed}.mid`,
  bytes: writeMidiFile(bandFile({ chart: 'Dm | Gm | A7 | Dm', style: 'river', bpm: 80 + seed / 10, seed, title: `Ferry ${seed}` })), // prettier-ignore
});

async function twoServers() {
  const one = await startTestServer();
  const two = await startTestServer({ dataDirectory: one.dataDirectory });
  return { one, two, first: apiClient(one.address), second: apiClient(two.address) };
}

test('what is done in one process is heard at another, within a moment', options, async () => {
  const { one, two, first } = await twoServers();
  const news = await listenTo(two.address);
  const { body } = await first.post('/api/baskets', { name: 'Crossing' });
  const { data } = await news.hears('the basket', ({ name }) => name === 'changed');
  assert.deepEqual([data.kind, data.id], ['basket', body.id]);
  await news.end();
  await two.stop();
  await one.remove();
});

test(
  'an intake whose process is killed in the middle goes on at another: each file once, none lost',
  options,
  async () => {
    const { one, two, first, second } = await twoServers();
    const files = Array.from({ length: 150 }, (_, seed) => file(seed));
    const id = await first.sendFiles(files);
    await until('it has begun', async () => (await second.get(`/api/jobs/${id}`)).body.counts.taken > 0, { every: 5 }); // prettier-ignore
    one.process.kill('SIGKILL');
    const { counts, state } = await second.intakeEnd(id);
    assert.equal(state, 'done');
    assert.deepEqual([counts.waiting, counts.refused], [0, 0]);
    assert.equal((await second.get('/api/takes')).body.total, files.length);
    await two.stop();
    await one.remove();
  },
);

test('of two processes one works on an intake: no file is read by both', options, async () => {
  const { one, two, first, second } = await twoServers();
  const id = await first.sendFiles(Array.from({ length: 60 }, (_, seed) => file(seed)));
  await second.send('POST', `/api/jobs/${id}/close`);
  const { counts } = await second.intakeEnd(id);
  // A file that both had read would be known to one of them.
  assert.deepEqual([counts.taken, counts.known], [60, 0]);
  await two.stop();
  await one.remove();
});

test(
  'a database that goes away between two statements of a transaction takes no process with it',
  options,
  async () => {
    const dataDirectory = await emptyLibrary();
    const { DATABASE_URL } = await databaseFor(dataDirectory);
    const way = await wayThatBreaks(DATABASE_URL!);
    const library = await openLibrary({ dataDirectory, databaseUrl: way.url });
    const count = (db: Db) => db.execute('select count(*) from takes');
    await assert.rejects(
      library.db.transaction(async (transaction) => {
        await count(transaction);
        way.cut();
        // What the connection has to say of its end comes while nobody asks it anything.
        await setTimeout(50);
        await count(transaction);
      }),
      (error) => /cannot be reached just now/.test(awayProblem(error) ?? ''),
    );
    way.mend();
    await count(library.db);
    await library.close();
    way.close();
    rmSync(dataDirectory, { recursive: true });
  },
);

test(
  'a database that is away for some seconds: it is said so, and everything goes on when it is back',
  options,
  async () => {
    const dataDirectory = await emptyLibrary();
    const { DATABASE_URL } = await databaseFor(dataDirectory);
    const way = await wayThatBreaks(DATABASE_URL!);
    const server = await startTestServer({ dataDirectory, environment: { DATABASE_URL: way.url } });
    const api = apiClient(server.address);
    const news = await listenTo(server.address);
    const files = Array.from({ length: 120 }, (_, seed) => file(seed));
    const id = await api.sendFiles(files);
    await until('it has begun', async () => (await api.get(`/api/jobs/${id}`)).body.counts.taken > 0, { every: 5 }); // prettier-ignore
    way.cut();
    assertProblem(await api.get('/api/takes'), 503, /cannot be reached just now/);
    assertProblem(await api.post('/api/baskets', { name: 'Now' }), 503, /Nothing was changed/);
    await setTimeout(AWAY);
    way.mend();
    const { counts, state } = await api.intakeEnd(id);
    assert.deepEqual([state, counts.waiting, counts.refused], ['done', 0, 0]);
    assert.equal((await api.get('/api/takes')).body.total, files.length);
    await news.hears('that something may have been missed', ({ name }) => name === 'missed');
    await news.end();
    await server.remove();
    way.close();
  },
);
