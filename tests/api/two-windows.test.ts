import assert from 'node:assert/strict';
import { test } from 'node:test';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import { bandFile } from '../../src/core/standins/band.ts';
import { assertProblem, editOf } from '../support/api.ts';
import { serverForTests } from '../support/suite.ts';

/** The same take, phrase or basket in two windows: the later one is told, and nothing is lost without a word. */

const { api } = await serverForTests();

async function takeIn(seed: number): Promise<string> {
  const file = bandFile({ chart: 'Dm | Gm | A7 | Dm', style: 'river', bpm: 96, seed, title: 'Ferry' });
  const { body } = await api.upload(writeMidiFile(file), `ferry_${seed}.mid`);
  return body.takeIds[0];
}

const rename = (name: string, part = 'p1') => ({ move: 'rename', part, name });

/** A phrase as its page sends it back. */
async function changeOf(id: string) {
  const { body } = await api.get(`/api/phrases/${id}`);
  return { ...editOf(body), basedOn: body.updatedAt };
}

async function draftOf(takeId: string): Promise<string> {
  const { body } = await api.post('/api/phrases', { takeId, parts: ['p2'], startBar: 1, bars: 2 });
  return body.phraseIds[0];
}

test('of two windows with one phrase, the later one is told; what the earlier saved stands', async () => {
  const id = await draftOf(await takeIn(1));
  const [earlier, later] = [await changeOf(id), await changeOf(id)];
  assert.equal((await api.put(`/api/phrases/${id}`, { ...earlier, name: 'By the first' })).status, 200);
  assertProblem(
    await api.put(`/api/phrases/${id}`, { ...later, name: 'By the second' }),
    409,
    /saved in another window/,
  );
  assert.equal((await api.get(`/api/phrases/${id}`)).body.name, 'By the first');
  // Who has looked at both says so by the version that was looked at.
  const both = await changeOf(id);
  const chosen = await api.put(`/api/phrases/${id}`, { ...later, name: 'Chosen', basedOn: both.basedOn });
  assert.deepEqual([chosen.status, chosen.body.name], [200, 'Chosen']);
});

test('of two saves at one moment on one version, exactly one is written', async () => {
  const id = await draftOf(await takeIn(2));
  const change = await changeOf(id);
  const answers = await Promise.all(
    ['one', 'two', 'three'].map((name) => api.put(`/api/phrases/${id}`, { ...change, name })),
  );
  assert.deepEqual(answers.map(({ status }) => status).sort(), [200, 409, 409]);
  const written = answers.find(({ status }) => status === 200)!;
  assert.equal((await api.get(`/api/phrases/${id}`)).body.name, written.body.name);
});

test('a save that does not say what it was made on is written, as scripts send it', async () => {
  const id = await draftOf(await takeIn(3));
  const { basedOn: _, ...change } = await changeOf(id);
  await api.put(`/api/phrases/${id}`, { ...change, name: 'one' });
  assert.equal((await api.put(`/api/phrases/${id}`, { ...change, name: 'two' })).body.name, 'two');
});

test('of two windows with one take, the later move is told and not done, so is taking back', async () => {
  const id = await takeIn(4);
  const { revision } = (await api.get(`/api/takes/${id}`)).body;
  const first = await api.post(`/api/takes/${id}/moves`, { move: rename('First'), revision });
  assert.deepEqual([first.status, first.body.revision], [200, revision + 1]);
  assertProblem(
    await api.post(`/api/takes/${id}/moves`, { move: rename('Second'), revision }),
    409,
    /"ferry 4" was changed in another window\. Nothing was done here/,
  );
  assertProblem(await api.post(`/api/takes/${id}/undo`, { revision }), 409, /another window/);
  assertProblem(await api.post(`/api/takes/${id}/history`, { done: 0, revision }), 409, /another window/);
  const row = (await api.get(`/api/takes/${id}`)).body;
  assert.deepEqual([row.movesDone, row.moves[0].name], [1, 'First']);
  assert.equal((await api.post(`/api/takes/${id}/undo`, { revision: revision + 1 })).body.movesDone, 0);
});

test('moves of two windows that touch different things both stand; the same part is told', async () => {
  const id = await takeIn(14);
  const { revision } = (await api.get(`/api/takes/${id}`)).body;
  const send = (move: unknown, on = revision) => api.post(`/api/takes/${id}/moves`, { move, revision: on });
  await send(rename('First', 'p1'));
  const second = await send(rename('Second', 'p2'));
  assert.deepEqual([second.status, second.body.revision], [200, revision + 2]);
  assert.deepEqual(second.body.moves.map((one: { name: string }) => one.name), ['First', 'Second']); // prettier-ignore
  // What the second window sends before it has seen the first one's move stands on something else than it says.
  assertProblem(await send(rename('Third', 'p3'), revision + 1), 409, /another window/);
  assert.equal((await send({ move: 'role', part: 'p1', role: 'lead' }, revision + 2)).status, 200);
  assertProblem(await send(rename('Fourth', 'p1'), revision), 409, /another window/);
  await api.post(`/api/takes/${id}/undo`, {});
  assertProblem(await send(rename('Fifth', 'p3'), revision + 3), 409, /another window/);
});

test('two who save one phrase: what touches different things is put together, the same is told with what', async () => {
  const id = await draftOf(await takeIn(15));
  const { basedOn, ...edit } = await changeOf(id);
  const { state: _, ...base } = edit;
  const on = { basedOn, base };
  await api.put(`/api/phrases/${id}`, { ...edit, ...on, tags: ['river'] });
  const second = await api.put(`/api/phrases/${id}`, {
    ...edit,
    ...on,
    name: 'By the second',
    tags: ['dusk'],
  });
  assert.deepEqual(
    [second.status, second.body.name, second.body.tags],
    [200, 'By the second', ['dusk', 'river']],
  );
  assertProblem(await api.put(`/api/phrases/${id}`, { ...edit, ...on, name: 'By the third' }), 409, /Somebody else changed the name of "By the second" meanwhile/); // prettier-ignore
  assert.equal((await api.get(`/api/phrases/${id}`)).body.name, 'By the second');
});

test('ten who save one phrase at one moment, each another tag: all ten tags are there', async () => {
  const id = await draftOf(await takeIn(16));
  const { basedOn, ...edit } = await changeOf(id);
  const { state: _, ...base } = edit;
  const tags = Array.from({ length: 10 }, (_one, k) => `tag ${k}`);
  const save = async (tag: string) => {
    for (;;) {
      const { status } = await api.put(`/api/phrases/${id}`, { ...edit, tags: [tag], basedOn, base });
      if (status !== 409) return status;
    }
  };
  assert.deepEqual(
    await Promise.all(tags.map(save)),
    tags.map(() => 200),
  );
  assert.deepEqual((await api.get(`/api/phrases/${id}`)).body.tags.toSorted(), tags);
});

test('a basket, a project, a card and the house: different things of two people stand, the same is told', async () => {
  const { body: begunBasket } = await api.post('/api/baskets', { name: 'Both' });
  const path = `/api/baskets/${begunBasket.id}`;
  const { body: basket } = await api.get(path);
  await api.patch(path, { name: 'By one', was: { name: 'Both' } });
  assert.equal((await api.patch(path, { pattern: '{name}', was: { pattern: basket.pattern } })).status, 200);
  assertProblem(
    await api.patch(path, { name: 'By two', was: { name: 'Both' } }),
    409,
    /changed the name of "By one"/,
  );
  const { body: made } = await api.post('/api/phrases', { takeId: await takeIn(17), parts: ['p1', 'p2', 'p3'], startBar: 1, bars: 4, keep: true }); // prettier-ignore
  const [a, b, c] = made.phraseIds ?? assert.fail(JSON.stringify(made));
  const row = (id: string) => ({ id });
  await api.put(`${path}/items`, { rows: [a, b].map(row), was: [] });
  await api.put(`${path}/items`, { rows: [b].map(row), was: [a, b].map(row) });
  const { body: both } = await api.put(`${path}/items`, { rows: [a, b, c].map(row), was: [a, b].map(row) });
  assert.deepEqual(both.items.map((one: { id: string }) => one.id), [b, c]); // prettier-ignore
  const { body: house } = await api.get('/api/house');
  await api.put('/api/house', { ...house, grid: '1/8', base: house });
  const { body: kept } = await api.put('/api/house', { ...house, strength: 0.5, base: house });
  assert.deepEqual([kept.grid, kept.strength], ['1/8', 0.5]);
  assertProblem(await api.put('/api/house', { ...house, grid: '1/4', base: house }), 409, /the house standard meanwhile/); // prettier-ignore
  const project = { name: 'River', keyTonic: null, keyMode: null, bpm: 96, meterNumerator: 4, meterDenominator: 4, chords: '' }; // prettier-ignore
  const { body: begun } = await api.post('/api/projects', project);
  await api.put(`/api/projects/${begun.id}`, { ...project, bpm: 90, base: project });
  const { body: later } = await api.put(`/api/projects/${begun.id}`, { ...project, chords: 'Dm | Gm', base: project }); // prettier-ignore
  assert.deepEqual([later.bpm, later.chords], [90, 'Dm | Gm']);
});

test('moves of one window that are sent before the answers have come are done in their order', async () => {
  const id = await takeIn(5);
  const { revision } = (await api.get(`/api/takes/${id}`)).body;
  const names = Array.from({ length: 8 }, (_, i) => `n${i}`);
  // The last is sent first: a network keeps no order.
  const sent = names
    .map(
      (name, i) => () => api.post(`/api/takes/${id}/moves`, { move: rename(name), revision: revision + i }),
    )
    .reverse()
    .map((send) => send());
  assert.ok((await Promise.all(sent)).every(({ status }) => status === 200));
  const row = (await api.get(`/api/takes/${id}`)).body;
  assert.deepEqual(
    row.moves.map((move: { name: string }) => move.name),
    names,
  );
  assert.equal(row.revision, revision + names.length);
});

test('whoever opens a take sees the moves that were on their way', async () => {
  const id = await takeIn(6);
  const sent = Array.from({ length: 5 }, (_, i) =>
    api.post(`/api/takes/${id}/moves`, { move: rename(`n${i}`) }),
  );
  await new Promise((resolve) => setTimeout(resolve, 30));
  const seen = (await api.get(`/api/takes/${id}`)).body;
  await Promise.all(sent);
  assert.equal((await api.get(`/api/takes/${id}`)).body.movesDone, 5);
  assert.ok(seen.movesDone >= 1, `${seen.movesDone} of 5`);
});

test('a history that going on elsewhere has dropped is kept beside, and brought back whole', async () => {
  const id = await takeIn(7);
  const move = (name: string) => api.post(`/api/takes/${id}/moves`, { move: rename(name) });
  for (const name of ['a', 'b', 'c']) await move(name);
  await api.post(`/api/takes/${id}/history`, { done: 1 });
  const elsewhere = (await move('d')).body;
  const names = (moves: { name: string }[]) => moves.map((one) => one.name);
  assert.deepEqual(names(elsewhere.moves), ['a', 'd']);
  assert.deepEqual(
    elsewhere.dropped.map((one: { moves: { name: string }[]; at: number }) => [names(one.moves), one.at]),
    [[['a', 'b', 'c'], 1]],
  );
  const back = (await api.post(`/api/takes/${id}/history`, { restore: 0 })).body;
  assert.deepEqual([names(back.moves), back.movesDone], [['a', 'b', 'c'], 3]);
  // The one that was left for it takes its place: it can be gone back to as well.
  assert.deepEqual(
    back.dropped.map((one: { moves: { name: string }[]; at: number }) => [names(one.moves), one.at]),
    [[['a', 'd'], 1]],
  );
  assertProblem(await api.post(`/api/takes/${id}/history`, { restore: 4 }), 409, /no longer kept/);
  assertProblem(await api.post(`/api/takes/${id}/history`, { done: 9 }), 409, /not that long/);
  assertProblem(await api.post(`/api/takes/${id}/history`, {}), 400, /how many moves/);
});

test('a move that asks for what is there not keeps the dropped history untouched', async () => {
  const id = await takeIn(8);
  await api.post(`/api/takes/${id}/moves`, { move: rename('a') });
  await api.send('POST', `/api/takes/${id}/undo`);
  const before = (await api.get(`/api/takes/${id}`)).body;
  assertProblem(await api.post(`/api/takes/${id}/moves`, { move: rename('x', 'p99') }), 422, /no part p99/);
  assert.deepEqual((await api.get(`/api/takes/${id}`)).body, before);
});
