import assert from 'node:assert/strict';
import { after, before, test } from 'node:test';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import { childRecipe } from '../../src/core/reuse/child.ts';
import { bandFile } from '../../src/core/standins/band.ts';
import { newCell, type Weave } from '../../src/core/weave/weave.ts';
import type { Lineage } from '../../src/server/library/lineage.ts';
import type { PhraseDetail } from '../../src/server/library/phrases/phrases.ts';
import { apiClient, assertProblem, type Api } from '../support/api.ts';
import { startTestServer, type TestServer } from '../support/server.ts';

let server: TestServer;
let api: Api;
let takeId: string;
before(async () => {
  server = await startTestServer();
  api = apiClient(server.address);
  const chart = 'A: Dm | Gm | A7 | Dm; B: F | C | Gm | A7; form: A A B A';
  const band = bandFile({ chart, style: 'river', bpm: 96, seed: 3, title: 'Crossing', mishaps: [], looseness: 0 }); // prettier-ignore
  takeId = (await api.upload(writeMidiFile(band), 'crossing.mid')).body.takeIds[0];
  await api.patch('/api/takes', { ids: [takeId], asked: { chart } });
});
after(() => server.remove());

const phrase = async (id: string) => (await api.get(`/api/phrases/${id}`)).body as PhraseDetail;

test('a weave laid out as a take was: the asked form by its names, every part of every section a kept phrase, each once', async () => {
  const made = await api.post(`/api/takes/${takeId}/weave`, { withParts: true, projectId: null });
  assert.equal(made.status, 201, JSON.stringify(made.body));
  const { weave } = made.body as { weave: Weave };
  assert.equal(weave.bpm, 96);
  assert.deepEqual(
    weave.sections.map(({ name, bars, changes }) => [name, bars, changes]),
    [
      ['A', 4, 'Dm | Gm | A7 | Dm'],
      ['A', 4, 'Dm | Gm | A7 | Dm'],
      ['B', 4, 'F | C | Gm | A7'],
      ['A', 4, 'Dm | Gm | A7 | Dm'],
    ],
  );
  assert.ok(weave.parts.length >= 4);
  assert.equal(weave.cells.length, 4 * weave.parts.length);
  let startBar = 1;
  for (const section of weave.sections) {
    for (const cell of weave.cells.filter((one) => one.section === section.id)) {
      const kept = await phrase(cell.phrase);
      assert.equal(kept.state, 'kept');
      assert.equal(kept.bars, section.bars);
      assert.equal(kept.startBar, startBar);
      assert.equal(kept.role, weave.parts.find(({ id }) => id === cell.part)!.role);
    }
    startBar += section.bars;
  }
  // Laid out again, the same phrases are used: nothing is kept twice.
  const again = (await api.post(`/api/takes/${takeId}/weave`, { withParts: true, projectId: null })).body;
  assert.deepEqual(
    again.weave.cells.map((cell: Weave['cells'][number]) => cell.phrase),
    weave.cells.map((cell) => cell.phrase),
  );
  const sections = (await api.post(`/api/takes/${takeId}/weave`, { withParts: false, projectId: null })).body;
  assert.deepEqual(sections.weave.sections, weave.sections);
  assert.deepEqual([sections.weave.parts, sections.weave.cells], [[], []]);
  assertProblem(
    await api.post('/api/takes/00000000-0000-4000-8000-000000000000/weave', {
      withParts: true,
      projectId: null,
    }),
    404,
    /no such take/,
  );
});

test('lineage: from the take through child and grandchild into weave, basket and pack, each once', async () => {
  const { phraseIds } = (await api.post(`/api/takes/${takeId}/make`, {})).body;
  await api.post('/api/phrases/state', { phraseIds, state: 'kept' });
  const child = async (parentId: string, level: number) => {
    const parent = await phrase(parentId);
    const recipe = childRecipe(parent.recipe, [{ step: 'density', level, seed: 1 }]);
    const request = { children: [{ parentId, recipe, name: `${parent.name} ${level}` }] };
    const answer = await api.post('/api/phrases/children', { ...request, done: `busier by ${level}`, tags: [], projectId: null }); // prettier-ignore
    assert.equal(answer.status, 201, JSON.stringify(answer.body));
    return answer.body.phraseIds[0] as string;
  };
  const first = phraseIds[0] as string;
  const second = await child(first, 1);
  const third = await child(second, -1);
  const form = (await api.post(`/api/takes/${takeId}/weave`, { withParts: false, projectId: null })).body;
  const part = { id: 'p1', name: 'Kit', role: 'drums' as const, program: null, level: 1, pan: null };
  const section = form.weave.sections[0].id;
  const weave = {
    ...form.weave,
    title: 'Woven',
    parts: [part],
    cells: [{ ...newCell(section, 'p1', first), fill: third }],
  };
  const woven = (await api.post('/api/weaves', { weave, projectId: null })).body;
  const basket = (await api.post('/api/baskets', { name: 'For the quay' })).body;
  await api.put(`/api/baskets/${basket.id}/items`, { rows: [{ id: third }] });
  const packed = await fetch(`${server.address}/api/baskets/${basket.id}/pack`);
  assert.equal(packed.status, 200);
  await packed.arrayBuffer();

  const of = (await api.get(`/api/lineage?phrase=${second}`)).body as Lineage;
  const name = new Map(of.nodes.map((node) => [node.id, node.kind === 'phrase' ? node.id : node.kind]));
  const links = of.links.map(({ from, to, done }) => [name.get(from), name.get(to), done]);
  for (const expected of [
    ['take', first, ''],
    [first, second, 'busier by 1'],
    [second, third, 'busier by -1'],
    [first, 'weave', ''],
    [third, 'weave', ''],
    [third, 'basket', ''],
    ['basket', 'pack', ''],
  ])
    assert.equal(links.filter((link) => link.join() === expected.join()).length, 1, expected.join());
  assert.equal(of.more, false);
  // The same things from the weave's side, and nothing that is not joined to them.
  const ofWeave = (await api.get(`/api/lineage?weave=${woven.id}`)).body as Lineage;
  assert.deepEqual(ofWeave.nodes.map(({ id }) => id).toSorted(), of.nodes.map(({ id }) => id).toSorted());
  assertProblem(await api.get('/api/lineage'), 400, /of a phrase or of a weave/);
  assertProblem(await api.get('/api/lineage?phrase=x'), 400, /by an id/);
  assertProblem(
    await api.get('/api/lineage?phrase=00000000-0000-4000-8000-000000000000'),
    404,
    /no such phrase/,
  );
});

test('what is made of phrases is as free as the strictest of them', async () => {
  const { phraseIds } = (await api.post(`/api/takes/${takeId}/make`, {})).body;
  await api.post('/api/phrases/state', { phraseIds, state: 'kept' });
  const [one, other] = phraseIds as [string, string];
  await api.post('/api/phrases/changes', { phraseIds: [one], rights: 'own work' });
  await api.post('/api/phrases/changes', { phraseIds: [other], rights: "from somebody's song" });
  const notes = [{ tick: 0, duration: 480, pitch: 60, velocity: 90 }];
  const made = await api.post('/api/made', {
    ...{ name: 'Woven', bpm: 96, meter: { numerator: 4, denominator: 4 }, bars: 1, key: null, tags: [] },
    parts: [{ name: 'Keys', role: 'keys', program: 0, notes }],
    ...{ parentIds: [one, other], done: 'woven', projectId: null },
  });
  assert.equal(made.status, 201, JSON.stringify(made.body));
  assert.equal((await phrase(made.body.phraseIds[0])).rights, "from somebody's song");
});

test('where a phrase is used: in baskets and weaves; another is put in its place there, and a basket that holds both keeps both', async () => {
  const made = await api.post('/api/phrases', {
    takeId,
    parts: ['p2', 'p3'],
    startBar: 6,
    bars: 3,
    keep: true,
  });
  const [one, other] = made.body.phraseIds as [string, string];
  const form = (await api.post(`/api/takes/${takeId}/weave`, { withParts: false, projectId: null })).body;
  const weave = {
    ...form.weave,
    title: 'Used',
    parts: [{ id: 'p1', name: 'Low', role: 'bass', program: null, level: 1, pan: null }],
    cells: [{ ...newCell(form.weave.sections[0].id, 'p1', one), fill: one }],
  };
  const woven = (await api.post('/api/weaves', { weave, projectId: null })).body;
  const ids: string[] = [];
  for (const [name, phraseIds] of [
    ['Alone', [one]],
    ['Both', [one, other]],
  ] as const) {
    const { id } = (await api.post('/api/baskets', { name })).body;
    await api.post(`/api/baskets/${id}/items`, { phraseIds });
    ids.push(id);
  }
  const { places } = (await api.post('/api/phrases/places', { phraseIds: [one] })).body;
  const named = places.map(({ kind, name }: { kind: string; name: string }) => `${kind} ${name}`);
  assert.deepEqual(named, ['basket Alone', 'basket Both', 'weave Used']);
  const there = places.map(({ kind, id }: { kind: string; id: string }) => ({ kind, id }));
  assert.equal((await api.put('/api/phrases/places', { from: one, to: other, places: there })).status, 200);
  const inBasket = async (id: string) =>
    (await api.get(`/api/baskets/${id}`)).body.items.map((item: { id: string }) => item.id);
  assert.deepEqual(await inBasket(ids[0]!), [other]);
  assert.deepEqual(await inBasket(ids[1]!), [one, other]);
  const { weave: now, revision } = (await api.get(`/api/weaves/${woven.id}`)).body;
  assert.deepEqual([now.cells[0].phrase, now.cells[0].fill, revision], [other, other, 1]);
  assertProblem(await api.put('/api/phrases/places', { from: 'x', to: other, places: [] }), 400, /An id/);
});
