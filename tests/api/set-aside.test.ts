import assert from 'node:assert/strict';
import { test } from 'node:test';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import { arpeggiator } from '../../src/core/standins/arpeggiator.ts';
import { bandFile } from '../../src/core/standins/band.ts';
import { performanceFile } from '../../src/core/standins/performance.ts';
import { assertProblem } from '../support/api.ts';
import { serverForTests } from '../support/suite.ts';

/** Phrases that are kept once, set aside, and brought back. */

const { api } = await serverForTests();

async function takeIn(seed: number): Promise<string> {
  const file = bandFile({ chart: 'Dm | Gm | A7 | Dm', style: 'river', bpm: 96, seed, title: 'Ferry' });
  const { body } = await api.upload(writeMidiFile(file), `ferry_${seed}.mid`);
  return body.takeIds[0];
}

const make = async (takeId: string, more: object = {}) =>
  (await api.post('/api/phrases', { takeId, parts: ['p2'], startBar: 1, bars: 2, ...more })).body;

const setState = (phraseIds: string[], state: string) => api.post('/api/phrases/state', { phraseIds, state });

const found = async (query: string): Promise<string[]> =>
  (await api.get(`/api/phrases?${query}`)).body.phrases.map((phrase: { id: string }) => phrase.id);

const nameOf = async (id: string): Promise<string> => (await api.get(`/api/phrases/${id}`)).body.name;

test('a kept phrase is set aside and brought back; the baskets that hold it are named and say so', async () => {
  const { phraseIds } = await make(await takeIn(1), { keep: true });
  const [id] = phraseIds;
  const { body: basket } = await api.post('/api/baskets', { name: 'For the theater' });
  await api.post(`/api/baskets/${basket.id}/items`, { phraseIds });
  assert.ok((await found('')).includes(id));

  const aside = await setState([id], 'discarded');
  assert.deepEqual(aside.body, { baskets: ['For the theater'] });
  assert.ok(!(await found('')).includes(id));
  assert.deepEqual(await found('aside'), [id]);
  const [item] = (await api.get(`/api/baskets/${basket.id}`)).body.items;
  assert.deepEqual([item.id, item.state], [id, 'discarded'], 'it stays where it was put, and says so');

  await setState([id], 'back');
  assert.ok((await found('')).includes(id));
  assert.deepEqual(await found('aside'), []);
});

test('what was a draft comes back as a draft, what was kept as kept; twice aside is once', async () => {
  const draft = (await make(await takeIn(2))).phraseIds[0];
  const kept = (await make(await takeIn(3), { keep: true })).phraseIds[0];
  await setState([draft, kept], 'discarded');
  await setState([draft, kept], 'discarded');
  await setState([draft, kept], 'back');
  const states = await Promise.all(
    [draft, kept].map(async (id) => (await api.get(`/api/phrases/${id}`)).body.state),
  );
  assert.deepEqual(states, ['draft', 'kept']);
  // What was not aside is not touched by bringing back.
  await setState([draft], 'back');
  assert.equal((await api.get(`/api/phrases/${draft}`)).body.state, 'draft');
});

test('keeping the same bars of the same part twice makes no twin and says that it is kept already', async () => {
  const takeId = await takeIn(4);
  const first = await make(takeId, { keep: true });
  assert.equal(first.already, false);
  const again = await make(takeId, { keep: true });
  assert.deepEqual([again.already, again.phraseIds], [true, first.phraseIds]);
  // Other bars, another part, and other notes are something else.
  assert.equal((await make(takeId, { keep: true, startBar: 2 })).already, false);
  assert.equal((await make(takeId, { keep: true, parts: ['p5'] })).already, false);
  await api.post(`/api/takes/${takeId}/moves`, {
    move: { move: 'setAside', part: 'p2', reason: 'not wanted', fromTick: 0, toTick: 480 },
  });
  assert.equal((await make(takeId, { keep: true })).already, false);
  // Set aside, it is not kept any more.
  await setState(first.phraseIds, 'discarded');
  await api.send('POST', `/api/takes/${takeId}/undo`);
  assert.equal((await make(takeId, { keep: true })).already, false);
});

test('a sheaf that is kept is known again as a whole', async () => {
  const takeId = await takeIn(5);
  const sheaf = { keep: true, parts: ['p1', 'p2', 'p5'] };
  const first = await make(takeId, sheaf);
  const again = await make(takeId, sheaf);
  assert.deepEqual([again.already, again.sheafId], [true, first.sheafId]);
  assert.deepEqual([...again.phraseIds].sort(), [...first.phraseIds].sort());
});

test('a take of one part that is kept whole says so the second time', async () => {
  const bytes = writeMidiFile(performanceFile(arpeggiator.play({ ...arpeggiator.defaults, seed: 3 })));
  const { body } = await api.upload(bytes, 'arpeggio.mid');
  const path = `/api/takes/${body.takeIds[0]}/keep`;
  const first = (await api.post(path, {})).body;
  const again = (await api.post(path, {})).body;
  assert.deepEqual([first.already, again.already], [false, true]);
  assert.deepEqual([again.phraseId, again.name], [first.phraseId, first.name]);
});

test('names that are given by themselves never make twins', async () => {
  const takeId = await takeIn(6);
  const ids: string[] = [];
  for (const startBar of [1, 1, 3, 1]) ids.push(...(await make(takeId, { startBar })).phraseIds);
  const names = await Promise.all(ids.map(nameOf));
  assert.equal(new Set(names).size, names.length, names.join(' | '));
});

test('a state that is none is refused', async () => {
  assertProblem(await setState(['00000000-0000-4000-8000-000000000000'], 'elsewhere'), 400, /one of/);
});
