import assert from 'node:assert/strict';
import { after, before, test } from 'node:test';
import { newCell, newSection, type Weave } from '../../src/core/weave/weave.ts';
import { apiClient, assertProblem, type Api } from '../support/api.ts';
import { startTestServer, type TestServer } from '../support/server.ts';

let server: TestServer;
let api: Api;
before(async () => {
  server = await startTestServer();
  api = apiClient(server.address);
});
after(() => server.remove());

const PHRASE = '11111111-1111-4111-8111-111111111111';
const OTHER = '22222222-2222-4222-8222-222222222222';

const weave: Weave = {
  ...{ title: 'Crossing', bpm: 100, meter: { numerator: 4, denominator: 4 }, key: 'D minor' },
  sections: [
    newSection('s1', 'A'),
    { ...newSection('s2', 'B', 4), changes: 'Dm | Gm', meter: { numerator: 3, denominator: 4 } },
  ],
  parts: [
    { id: 'p1', name: 'Kit', role: 'drums', program: null, level: 1, pan: null },
    { id: 'p2', name: 'Keys', role: 'keys', program: 4, level: 0.8, pan: 40 },
  ],
  cells: [
    { ...newCell('s1', 'p1', PHRASE), crash: true, fill: OTHER },
    {
      ...newCell('s2', 'p2', OTHER),
      steps: [
        { step: 'density', level: 1, seed: 1 },
        { step: 'octave', by: 1 },
      ],
    },
  ],
  ...{ ending: 'slower', endingBars: 2, refused: ['ending'] },
};

test('a weave is kept as it is, listed, set aside and brought back', async () => {
  const made = await api.post('/api/weaves', { weave, projectId: null });
  assert.equal(made.status, 201, JSON.stringify(made.body));
  assert.deepEqual((await api.get(`/api/weaves/${made.body.id}`)).body.weave, weave);
  const listed = async () =>
    (await api.get('/api/weaves')).body.weaves.map(({ title }: { title: string }) => title);
  assert.deepEqual(await listed(), ['Crossing']);
  await api.patch(`/api/weaves/${made.body.id}`, { aside: true });
  assert.deepEqual(await listed(), []);
  await api.patch(`/api/weaves/${made.body.id}`, { aside: false });
  assert.deepEqual(await listed(), ['Crossing']);
});

test('two windows on one weave: different cells are merged, the same one is told and nothing is lost', async () => {
  const { id } = (await api.post('/api/weaves', { weave, projectId: null })).body;
  const silent = { ...weave, cells: weave.cells.with(0, { ...weave.cells[0]!, muted: true }) };
  const rounds = { ...weave, cells: weave.cells.with(1, { ...weave.cells[1]!, rounds: 2 }) };
  const first = await api.put(`/api/weaves/${id}`, { base: weave, weave: silent });
  assert.equal(first.status, 200, JSON.stringify(first.body));
  const second = await api.put(`/api/weaves/${id}`, { base: weave, weave: rounds });
  assert.deepEqual(
    second.body.weave.cells.map(({ muted, rounds: many }: { muted: boolean; rounds: number | null }) => [
      muted,
      many,
    ]),
    [
      [true, null],
      [false, 2],
    ],
  );
  const late = { ...weave, cells: weave.cells.with(0, { ...weave.cells[0]!, phrase: OTHER }) };
  assertProblem(
    await api.put(`/api/weaves/${id}`, { base: weave, weave: late }),
    409,
    /changed Kit in "A" meanwhile/,
  );
  assert.deepEqual((await api.get(`/api/weaves/${id}`)).body, second.body);
});

test('bad input has its sentence, and nothing is kept', async () => {
  const count = async () => (await api.get('/api/weaves')).body.weaves.length;
  const before = await count();
  const post = (change: Partial<Weave>) =>
    api.post('/api/weaves', { weave: { ...weave, ...change }, projectId: null });
  assertProblem(await post({ sections: [newSection('s1', 'A', 0)] }), 422, /"A" has 0 bars/);
  const long = Array.from({ length: 5 }, (_, k) => newSection(`l${k}`, `L${k}`, 500));
  assertProblem(await post({ sections: long }), 422, /2,000 are the most/);
  assertProblem(await post({ bpm: 3 }), 400, /at least 20/);
  assertProblem(await post({ title: ' ' }), 400, /has a title/);
  const broken = [
    { ...weave.cells[0]!, steps: [{ step: 'density', level: 9 }] },
  ] as unknown as Weave['cells'];
  assert.ok([400, 422].includes((await post({ cells: broken })).status));
  assertProblem(await api.get('/api/weaves/00000000-0000-4000-8000-000000000000'), 404, /no such weave/);
  assert.equal(await count(), before);
});
