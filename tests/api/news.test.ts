import assert from 'node:assert/strict';
import { randomUUID } from 'node:crypto';
import { after, test } from 'node:test';
import { besideServer, newcomer } from '../support/people.ts';
import { listenTo } from '../support/news.ts';
import { serverForTests } from '../support/suite.ts';

/** Others' changes are told to whoever listens, with who and which window; guests hear what is theirs. */

const { server } = await serverForTests({ environment: { ACCOUNTS: 'on' } });
const library = await besideServer(server);
after(() => library.close());
const ida = await newcomer(server, library, { name: 'Ida', role: 'owner' });
const jonas = await newcomer(server, library, { name: 'Jonas', role: 'member' });

test('a change is heard by others within a moment, with who did it and in which window', async () => {
  const news = await listenTo(server.address, { cookie: ida.cookie() });
  const window = randomUUID();
  const { body } = await jonas.send('POST', '/api/baskets', {
    headers: { 'content-type': 'application/json', 'x-window': window },
    body: JSON.stringify({ name: 'Crossing' }),
  });
  const { data } = await news.hears('the basket', ({ name }) => name === 'changed');
  assert.deepEqual(data, { type: 'changed', kind: 'basket', id: body.id, by: 'Jonas', window });
  // What only looks is not told, nor what was refused.
  await jonas.get('/api/baskets');
  await jonas.post('/api/baskets', { name: '' });
  await jonas.patch(`/api/baskets/${body.id}`, { name: 'Crossing, second' });
  await news.hears('the change', ({ data: told }) => told.window === '');
  assert.equal(news.heard.filter(({ name }) => name === 'changed').length, 2);
  await news.end();
});

test('who is where is told, and that they have left; what they search for is not', async () => {
  const news = await listenTo(server.address, { cookie: ida.cookie() });
  const window = randomUUID();
  await jonas.post('/api/events/here', { window, path: '/library?text=secret' });
  const { data } = await news.hears('Jonas', (event) => event.name === 'here' && event.data.length > 0);
  assert.deepEqual(data, [{ window, by: 'Jonas', path: '/library' }]);
  await jonas.post('/api/events/here', { window, path: '' });
  await until0(news);
  // Whoever comes later is told at once who is there.
  await jonas.post('/api/events/here', { window, path: '/capture' });
  const later = await listenTo(server.address, { cookie: ida.cookie() });
  await later.hears('who is there', (event) => event.name === 'here' && event.data[0]?.path === '/capture');
  await Promise.all([news.end(), later.end()]);
});

const until0 = (news: Awaited<ReturnType<typeof listenTo>>) =>
  news.hears('that he left', (event) => event === news.heard.at(-1) && event.name === 'here' && event.data.length === 0); // prettier-ignore

test('a guest hears that a basket changed, and neither who is where nor what else is done; nobody hears nothing', async () => {
  const { body: basket } = await jonas.post('/api/baskets', { name: 'For Kaja' });
  const kaja = await newcomer(server, library, { name: 'Kaja', role: 'guest', baskets: [basket.id] });
  const news = await listenTo(server.address, { cookie: kaja.cookie() });
  await jonas.post('/api/events/here', { window: randomUUID(), path: '/library' });
  await jonas.post('/api/projects', { name: 'River', keyTonic: null, keyMode: null, bpm: 96, meterNumerator: 4, meterDenominator: 4, chords: '' }); // prettier-ignore
  const { body: other } = await jonas.post('/api/baskets', { name: 'Not for Kaja' });
  await jonas.patch(`/api/baskets/${other.id}`, { name: 'Not for Kaja at all' });
  await jonas.patch(`/api/baskets/${basket.id}`, { name: 'For Kaja, too' });
  await news.hears('the basket', ({ name }) => name === 'changed');
  assert.deepEqual(news.heard.map(({ data }) => data.id), [basket.id]); // prettier-ignore
  await news.end();
  assert.equal((await listenTo(server.address)).status, 401);
});
