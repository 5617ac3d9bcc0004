import assert from 'node:assert/strict';
import { after, before, test } from 'node:test';
import { readTakes, takeFrom } from '../../src/core/capture/take.ts';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import { HOUSE } from '../../src/core/normalize/house.ts';
import { splitTake } from '../../src/core/split/split.ts';
import { bandFile } from '../../src/core/standins/band.ts';
import { apiClient, assertProblem, type Answer, type Api } from '../support/api.ts';
import { startTestServer, type TestServer } from '../support/server.ts';
import { until } from '../support/until.ts';

let server: TestServer;
let api: Api;
before(async () => {
  server = await startTestServer();
  api = apiClient(server.address);
});
after(() => server.remove());

const bandOf = (seed: number) =>
  bandFile({
    chart: 'Dm | Gm | A7 | Dm',
    style: 'river',
    bpm: 96,
    seed,
    title: 'x',
    mishaps: [],
    looseness: 20,
  });

/** The id of the pad, the same in every take of the band. */
const padOf = () => splitTake(takeFrom(bandOf(1))).parts.find(({ name }) => name === 'Pad')!.id;

async function takeIn(seed: number, source: string): Promise<string> {
  return (await api.upload(writeMidiFile(bandOf(seed)), `${source} ${seed}.mid`, { source })).body.takeIds[0];
}

async function makeWhole(takeId: string): Promise<string[]> {
  const made = await api.post(`/api/takes/${takeId}/make`, {});
  assert.equal(made.status, 201, JSON.stringify(made.body));
  return made.body.phraseIds;
}

const phrase = async (id: string) => (await api.get(`/api/phrases/${id}`)).body;

/** Saves a phrase with something changed about it, and all else as it was. */
async function save(id: string, change: object): Promise<Answer> {
  const { name, role, takeKey, tags, projectId, rights, state, recipe } = await phrase(id);
  return api.put(`/api/phrases/${id}`, {
    name,
    role,
    takeKey,
    tags,
    projectId,
    rights,
    state,
    recipe,
    ...change,
  });
}

const midi = async (id: string) =>
  Buffer.from((await api.get(`/api/phrases/${id}/file?plain`)).body).toString('hex');

async function batchEnd(id: string): Promise<Answer['body']> {
  await until('a batch ends', async () => {
    const { body } = await api.get(`/api/batches/${id}`);
    return !['looking', 'applying', 'takingBack'].includes(body.phase);
  });
  return (await api.get(`/api/batches/${id}?rows`)).body;
}

test('a batch shows what would change, changes what is chosen, and is taken back to the byte', async () => {
  const ids = await makeWhole(await takeIn(1, 'batch source'));
  const before = await Promise.all(ids.map(midi));
  const recipe = {
    version: 1,
    steps: [
      { step: 'velocity', loud: 0.4 },
      { step: 'resolution', ppq: 960 },
    ],
  };
  const made = await api.post('/api/batches', { title: 'Softer', recipe, phraseIds: ids });
  assert.equal(made.status, 201, JSON.stringify(made.body));
  const looked = await batchEnd(made.body.id);
  assert.equal(looked.phase, 'looked');
  assert.equal(looked.rows.length, ids.length);
  for (const row of looked.rows) assert.equal(row.difference.loud.after, Math.round(0.4 * 127));
  assert.deepEqual(
    looked.rows.map((row: { outlier: number }) => row.outlier),
    looked.rows.map((row: { outlier: number }) => row.outlier).sort((a: number, b: number) => b - a),
  );
  // Nothing has changed yet.
  assert.deepEqual(await Promise.all(ids.map(midi)), before);

  await api.post(`/api/batches/${made.body.id}/left`, { phraseIds: [ids[0]], out: true });
  await api.patch(`/api/batches/${made.body.id}`, { phase: 'applying' });
  const applied = await batchEnd(made.body.id);
  assert.equal(applied.counts.applied, ids.length - 1);
  assert.equal(applied.counts.left, 1);
  const after = await Promise.all(ids.map(midi));
  assert.equal(after[0], before[0]);
  after.slice(1).forEach((bytes, i) => assert.notEqual(bytes, before[i + 1]));

  await api.patch(`/api/batches/${made.body.id}`, { phase: 'takingBack' });
  assert.equal((await batchEnd(made.body.id)).phase, 'takenBack');
  assert.deepEqual(await Promise.all(ids.map(midi)), before);
});

test("each role's house recipe changes nothing that is at the house standard; a changed house does", async () => {
  const ids = await makeWhole(await takeIn(2, 'house source'));
  const same = await batchEnd((await api.post('/api/batches', { title: 'House', phraseIds: ids })).body.id);
  assert.equal(same.counts.same, ids.length);
  const roles = { ...HOUSE.roles, bass: { ...HOUSE.roles.bass, loud: 0.5 } };
  const saved = await api.put('/api/house', { ...HOUSE, roles, pattern: '{role} of {take} {number}' });
  assert.equal(saved.status, 200, JSON.stringify(saved.body));
  const changed = await batchEnd(
    (await api.post('/api/batches', { title: 'House', phraseIds: ids })).body.id,
  );
  // The bass, and its pickup and ending where the file has them apart.
  const basses = changed.rows.filter((row: { role: string }) => row.role === 'bass').length;
  assert.ok(basses > 0 && changed.counts.looked === basses);
  const [named] = await makeWhole(await takeIn(3, 'house source'));
  assert.match((await phrase(named!)).name, /^\w+ of house source 3 1$/);
  await api.put('/api/house', HOUSE);
});

test('a phrase that was changed after the batch looked at it is not overwritten', async () => {
  const [id] = await makeWhole(await takeIn(4, 'batch source'));
  const recipe = { version: 1, steps: [{ step: 'velocity', loud: 0.3 }] };
  const batch = await batchEnd(
    (await api.post('/api/batches', { title: 'x', recipe, phraseIds: [id] })).body.id,
  );
  const { recipe: own } = await phrase(id!);
  const changed = { ...own, steps: [...own.steps, { step: 'length', factor: 0.5 }] };
  await save(id!, { recipe: changed });
  await api.patch(`/api/batches/${batch.id}`, { phase: 'applying' });
  const end = await batchEnd(batch.id);
  assert.equal(end.counts.refused, 1);
  assert.match(end.rows[0].reason, /changed after it was looked at/);
  assert.deepEqual((await phrase(id!)).recipe, changed);

  // Nor is what was done to it since lost when the batch is taken back.
  const again = await batchEnd(
    (await api.post('/api/batches', { title: 'x', recipe, phraseIds: [id] })).body.id,
  );
  await api.patch(`/api/batches/${again.id}`, { phase: 'applying' });
  assert.equal((await batchEnd(again.id)).counts.applied, 1);
  await save(id!, { recipe: changed });
  await api.patch(`/api/batches/${again.id}`, { phase: 'takingBack' });
  assert.match((await batchEnd(again.id)).rows[0].reason, /changed after the batch: left as it is/);
  assert.deepEqual((await phrase(id!)).recipe, changed);
});

test('a recipe for all that is found, however many: none is named', async () => {
  const takeId = await takeIn(7, 'found source');
  const { body: made } = await api.post('/api/phrases', { takeId, parts: ['p1', 'p2', 'p3'], startBar: 1, bars: 4, keep: true, tags: ['by the quay'] }); // prettier-ignore
  const { body: batch } = await api.post('/api/batches', { title: 'Found', filter: 'tag=by+the+quay' });
  const { rows } = await batchEnd(batch.id);
  assert.deepEqual(
    rows.map(({ phraseId }: { phraseId: string }) => phraseId).sort(),
    made.phraseIds.toSorted(),
  );
  assertProblem(await api.post('/api/batches', { title: 'Found', filter: 'text=nowhere+at+all' }), 422, /at least one phrase/); // prettier-ignore
});

test('what cannot be is refused with a sentence and changes nothing', async () => {
  const [id] = await makeWhole(await takeIn(5, 'batch source'));
  const steps = [
    { step: 'transpose', to: 'C' },
    { step: 'switches', mode: 'lock' },
  ];
  assertProblem(
    await api.post('/api/batches', { title: 'x', recipe: { version: 1, steps }, phraseIds: [id] }),
    422,
    /Key switches \(step 2\) cannot come after Transpose/,
  );
  assertProblem(await api.post('/api/batches', { title: 'x', phraseIds: [] }), 422, /at least one phrase/);
  assertProblem(await api.put('/api/house', { ...HOUSE, major: 'H' }), 400, /tonic such as/);
  assertProblem(await api.put('/api/presets', { name: ' ', role: null, recipe: { version: 1, steps: [] } }), 400, /needs a name/); // prettier-ignore
  assertProblem(await api.put('/api/feels', { name: 'x', feel: { grid: '1/3', places: [] } }), 422, /feel/);
  const batch = await batchEnd((await api.post('/api/batches', { title: 'x', phraseIds: [id] })).body.id);
  assertProblem(
    await api.patch(`/api/batches/${batch.id}`, { phase: 'takingBack' }),
    409,
    /cannot be done now/,
  );
});

test('presets and feels are kept under names, replaced by their like, and removed', async () => {
  const recipe = {
    version: 1,
    steps: [
      { step: 'bars', start: 1, count: 2 },
      { step: 'velocity', loud: 0.5 },
    ],
  };
  const kept = await api.put('/api/presets', { name: 'Fog', role: 'pad', recipe });
  assert.deepEqual(
    kept.body.recipe.steps.map(({ step }: { step: string }) => step),
    ['velocity'],
  );
  await api.put('/api/presets', { name: 'Fog', role: null, recipe });
  const { presets } = (await api.get('/api/presets')).body;
  assert.deepEqual(
    presets.map(({ name, role }: { name: string; role: string | null }) => [name, role]),
    [['Fog', null]],
  );
  await api.send('DELETE', `/api/presets/${presets[0].id}`);
  assert.deepEqual((await api.get('/api/presets')).body.presets, []);
  const feel = { grid: '1/8', places: [{ place: 1, by: 0.2, accent: 0.9 }] };
  const { body } = await api.put('/api/feels', { name: 'Lag', feel });
  assert.deepEqual((await api.get('/api/feels')).body.feels[0].feel, feel);
  await api.send('DELETE', `/api/feels/${body.id}`);
});

test("fitting is applied on the way out, and plain asked for it is not; a guitar's phrase gets the house's", async () => {
  const ids = await makeWhole(await takeIn(6, 'fitting source'));
  const all = await Promise.all(ids.map(phrase));
  const guitar = all.find(({ role }) => role === 'guitar')!;
  assert.deepEqual(guitar.fitting, { shift: { ms: -30, early: 'pickup' } });
  assert.match(guitar.appliedTo, /^[0-9a-f]{64}$/);
  const first = async (query: string) => {
    const { body } = await api.get(`/api/phrases/${guitar.id}/file${query}`);
    return readTakes(body)[0]!;
  };
  const [plain, fitted] = [await first('?plain'), await first('')];
  const ticks = Math.round((30 / 1000) * (96 / 60) * 480);
  const lead = fitted.notes.tick[0]! + ticks - plain.notes.tick[0]!;
  // What starts before bar one has a bar for its pickup.
  assert.ok(lead === 0 || lead === 1920, String(lead));
});

test('habits: what was done to two takes of a source is one move on the third, and can be forgotten', async () => {
  const source = 'habit source';
  const part = padOf();
  const [one, two, three] = [await takeIn(11, source), await takeIn(12, source), await takeIn(13, source)];
  for (const id of [one, two]) {
    await api.post(`/api/takes/${id}/moves`, { move: { move: 'rename', part, name: 'Fog' } });
    await api.post(`/api/takes/${id}/moves`, { move: { move: 'sound', part, channel: 4, program: 90 } });
    const made = await api.post('/api/phrases', { takeId: id, parts: [part], startBar: 1, bars: 2 });
    const { recipe } = await phrase(made.body.phraseIds[0]);
    const late = { ...recipe, steps: [...recipe.steps.slice(0, -1), { step: 'shift', ms: 12 }, recipe.steps.at(-1)] }; // prettier-ignore
    await save(made.body.phraseIds[0], { recipe: late, state: 'kept' });
  }
  const { body: usual } = await api.get(`/api/takes/${three}/habits`);
  assert.equal(usual.source, source);
  assert.equal(usual.habits.length, 3, JSON.stringify(usual.habits));
  assert.match(usual.habits.join('; '), /called "Fog" \(2 of 2 takes\)/);
  assert.match(usual.habits.join('; '), /pad: .*played 12 ms late/);
  await api.post(`/api/takes/${three}/moves`, { move: usual.move });
  const made = await api.post('/api/phrases', { takeId: three, parts: [part], startBar: 1, bars: 2 });
  const kept = await phrase(made.body.phraseIds[0]);
  assert.deepEqual([kept.partName, kept.program], ['Fog', 90]);
  assert.ok(kept.recipe.steps.some(({ step }: { step: string }) => step === 'shift'));
  assert.equal((await api.get(`/api/takes/${three}/habits`)).body.move, null);

  const { sources } = (await api.get('/api/habits')).body;
  const mine = sources.find((listed: { source: string }) => listed.source === source);
  const named = mine.habits.find(({ words }: { words: string }) => words.includes('Fog'));
  await api.post('/api/habits', { sourceId: mine.sourceId, habit: named.id, forgotten: true });
  const four = await takeIn(14, source);
  const { body: without } = await api.get(`/api/takes/${four}/habits`);
  assert.ok(!without.habits.some((words: string) => words.includes('Fog')));
  await api.post('/api/habits', { sourceId: mine.sourceId, habit: named.id, forgotten: false });
  const { body: again } = await api.get(`/api/takes/${four}/habits`);
  assert.ok(again.habits.some((words: string) => words.includes('Fog')));
});

test('a batch is stopped and goes on, and one that a process left behind is finished by the next', async () => {
  const ids: string[] = [];
  for (const seed of [21, 22, 23, 24]) ids.push(...(await makeWhole(await takeIn(seed, 'stopped source'))));
  const recipe = { version: 1, steps: [{ step: 'velocity', loud: 0.45 }] };
  const { body: batch } = await api.post('/api/batches', { title: 'x', recipe, phraseIds: ids });
  const stopped = await api.patch(`/api/batches/${batch.id}`, { phase: 'stopped' });
  // It may have been through by then; what is done twice is refused with a sentence.
  if (stopped.status === 200) {
    const rest = await batchEnd(batch.id);
    assert.equal(rest.phase, 'stopped');
    assert.equal((await api.patch(`/api/batches/${batch.id}`, { phase: 'looking' })).status, 200);
  } else assertProblem(stopped, 409, /looked/);
  assert.equal((await batchEnd(batch.id)).counts.looked, ids.length);

  await api.patch(`/api/batches/${batch.id}`, { phase: 'applying' });
  await server.stop();
  server = await startTestServer({ dataDirectory: server.dataDirectory });
  api = apiClient(server.address);
  const end = await batchEnd(batch.id);
  assert.equal(end.phase, 'applied');
  assert.equal(end.counts.applied, ids.length);
  for (const row of end.rows) assert.equal(row.difference.loud.after, Math.round(0.45 * 127));
});
