import assert from 'node:assert/strict';
import { test } from 'node:test';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import { bandFile } from '../../src/core/standins/band.ts';
import { assertProblem } from '../support/api.ts';
import { serverForTests } from '../support/suite.ts';
import { until } from '../support/until.ts';

/** What is written is found at once: by words, facets and fit, alike and twice. */

const { api } = await serverForTests();

interface Found {
  id: string;
  name: string;
  rating: number | null;
  tags: string[];
  fit: { fit: number; reasons: { part: string; text: string }[] } | null;
}

let seed = 0;

/** A take of the band, and its bass kept: four bars. */
async function kept(bpm = 96, chart = 'Dm | Gm | A7 | Dm'): Promise<{ takeId: string; id: string }> {
  const file = bandFile({ chart, style: 'river', bpm, seed: 7, title: `Ferry ${++seed}` });
  const { body } = await api.upload(writeMidiFile(file), `ferry_${seed}_at_${bpm}.mid`);
  const takeId = body.takeIds[0] as string;
  const made = await api.post('/api/phrases', { takeId, parts: ['p2'], startBar: 1, bars: 4, keep: true });
  return { takeId, id: made.body.phraseIds[0] };
}

const found = async (query: string): Promise<Found[]> =>
  (await api.get(`/api/phrases?${query}`)).body.phrases;
const idsOf = async (query: string) => (await found(query)).map(({ id }) => id);
const facet = async (name: string, query = ''): Promise<Record<string, number>> => {
  const { facets } = (await api.get(`/api/phrases/facets?${query}`)).body;
  return Object.fromEntries(
    facets[name].map(({ value, count }: { value: string; count: number }) => [value, count]),
  );
};

test('a phrase is found by all that it comes from, by its new names at once, and by what is understood', async () => {
  const { id, takeId } = await kept(97);
  assert.deepEqual(await idsOf('text=ferry_1_at_97'), [id], 'by its file');
  assert.deepEqual(await idsOf('text=97'), [id], 'by its tempo');
  assert.ok((await idsOf('text=Dm+4/4+4+bars')).includes(id));
  assert.deepEqual(await idsOf('text=%22Dm%22'), [], 'in quotes it is a word');
  await api.post(`/api/takes/${takeId}/moves`, { move: { move: 'nameTake', name: 'Quayside' } });
  assert.deepEqual(await idsOf('text=quayside'), [id]);
  await api.patch('/api/takes', { ids: [takeId], source: 'Band of six' });
  assert.deepEqual(await idsOf('source=Band+of+six'), [id]);
  assert.equal((await facet('sources'))['Band of six'], 1);
});

test('many are told the same at once, and put back as they were', async () => {
  const phraseIds = [(await kept()).id, (await kept()).id];
  const told = await api.post('/api/phrases/changes', {
    phraseIds,
    addTags: ['Market', 'fill'],
    rating: 4,
    rights: 'ours',
  });
  assert.equal(told.status, 200);
  assert.deepEqual(new Set(await idsOf('tag=market&rating=4&rights=said&purpose=fill')), new Set(phraseIds));
  await api.post('/api/phrases/changes', { phraseIds: [phraseIds[0]], removeTags: ['market'], rating: 0 });
  assert.deepEqual(await idsOf('tag=market'), [phraseIds[1]]);
  assert.deepEqual(await idsOf('rating=0'), [phraseIds[0]]);
  await api.post('/api/phrases/restored', { before: told.body.before });
  assert.deepEqual(await idsOf('tag=market'), []);
  assert.deepEqual(await idsOf('rating=4'), []);
  const stranger = '00000000-0000-4000-8000-000000000000';
  assertProblem(
    await api.post('/api/phrases/changes', { phraseIds: [phraseIds[0], stranger], rating: 5 }),
    422,
    /not there\. Nothing was changed/,
  );
  assert.deepEqual(await idsOf('rating=5'), [], 'all or nothing');
  assertProblem(await api.post('/api/phrases/changes', { phraseIds, rating: 9 }), 400, /1 to 5/);
});

test('never used and never heard are found; a basket and listening are seen at once', async () => {
  const { id } = await kept();
  assert.ok((await idsOf('used=never&heard=never')).includes(id));
  const { body: basket } = await api.post('/api/baskets', { name: 'For the copyist' });
  await api.post(`/api/baskets/${basket.id}/items`, { phraseIds: [id] });
  await api.post('/api/phrases/heard', { phraseIds: [id] });
  assert.deepEqual(await idsOf('used=used&heard=heard'), [id]);
  await api.send('DELETE', `/api/baskets/${basket.id}`);
  assert.deepEqual(await idsOf('used=used'), []);
});

test('tags are renamed, become one, and stand under others; none under itself', async () => {
  const [a, b] = [await kept(), await kept()];
  await api.post('/api/phrases/changes', { phraseIds: [a.id], addTags: ['boat'] });
  await api.post('/api/phrases/changes', { phraseIds: [b.id], addTags: ['ship'] });
  assert.deepEqual((await api.patch('/api/tags', { name: 'boat', rename: 'ferryboat' })).body, {
    merged: false,
  });
  assert.deepEqual(await idsOf('tag=ferryboat'), [a.id]);
  await api.patch('/api/tags', { name: 'ferryboat', under: 'ship' });
  assert.deepEqual(new Set(await idsOf('tag=ship')), new Set([a.id, b.id]), 'what stands under it too');
  assertProblem(await api.patch('/api/tags', { name: 'ship', under: 'ferryboat' }), 422, /under itself/);
  assert.deepEqual((await api.patch('/api/tags', { name: 'ferryboat', rename: 'ship' })).body, {
    merged: true,
  });
  assert.equal((await facet('tags')).ship, 2);
  assertProblem(await api.patch('/api/tags', { name: 'nobody', rename: 'x' }), 404, /./);
});

test('phrases are ordered by how they suit a project, with the reasons', async () => {
  const [near, far] = [await kept(100), await kept(61)];
  const { body: project } = await api.post('/api/projects', {
    ...{ name: 'Salt', keyTonic: 2, keyMode: 'minor', bpm: 100 },
    ...{ meterNumerator: 4, meterDenominator: 4, chords: 'Dm | Gm | A7 | Dm' },
  });
  const list = await found(`sort=fit&suits=${project.id}`);
  const at = (id: string) => list.findIndex((phrase) => phrase.id === id);
  assert.ok(at(near.id) < at(far.id));
  const best = list[at(near.id)]!.fit!;
  assert.ok(best.fit >= 95, JSON.stringify(best));
  assert.match(best.reasons.find(({ part }) => part === 'tempo')!.text, /as the project/);
  assert.equal((await found('text=ferry'))[0]!.fit, null, 'nothing chosen: no fit');
  assertProblem(await api.get('/api/phrases?sort=loudest'), 400, /"sort" is one of/);
});

test('the same phrase at another tempo is told, and found in the whole library; told apart, it is not asked again', async () => {
  const chart = 'F | Bb | C7 | F';
  const [a, b] = [await kept(110, chart), await kept(80, chart)];
  const twins = (await api.get(`/api/phrases/${a.id}/twins`)).body as {
    phrase: Found;
    likeness: { text: string };
  }[];
  const twin = twins.find(({ phrase }) => phrase.id === b.id)!;
  assert.match(twin.likeness.text, /at another tempo \(110 and 80 BPM\)/);
  const like = (await api.get(`/api/phrases/${a.id}/like?rhythm=1&pitch=0&chords=0`)).body as {
    phrase: Found;
    agreements: string[];
  }[];
  assert.equal(like[0]!.agreements.length, 2);

  await api.post('/api/twice', {});
  const groups = await until('the library is looked through', async () => {
    const { body } = await api.get('/api/twice');
    return body.state === 'done' && (body.groups as { phrase: Found }[][]);
  });
  const together = groups.find((group) => group.some(({ phrase }) => phrase.id === a.id))!;
  assert.ok(together.some(({ phrase }) => phrase.id === b.id));

  await api.post('/api/twice/apart', { phraseIds: [a.id, b.id], apart: true });
  const after = (await api.get(`/api/phrases/${a.id}/twins`)).body as { phrase: Found }[];
  assert.ok(!after.some(({ phrase }) => phrase.id === b.id));
});

test('bound as variants, phrases tell of each other and are not asked about; let go, they are twins again', async () => {
  const chart = 'A | D | E7 | A';
  const some = [await kept(100, chart), await kept(76, chart), await kept(120, chart)];
  const ids = some.map(({ id }) => id);
  const twins = async (id: string) =>
    ((await api.get(`/api/phrases/${id}/twins`)).body as { phrase: Found }[])
      .map(({ phrase }) => phrase.id)
      .filter((one) => ids.includes(one));
  const variants = async (id: string) =>
    ((await api.get(`/api/phrases/${id}/relatives`)).body.variants as { id: string }[]).map((one) => one.id);
  assert.equal((await twins(ids[0]!)).length, 2);
  await api.post('/api/twice/variants', { phraseIds: ids, bound: true });
  for (const id of ids) {
    assert.deepEqual(new Set(await variants(id)), new Set(ids.filter((other) => other !== id)));
    assert.deepEqual(await twins(id), []);
  }
  // A variant that is set aside is not told of.
  await api.post('/api/phrases/state', { phraseIds: [ids[2]], state: 'discarded' });
  assert.deepEqual(await variants(ids[0]!), [ids[1]]);
  await api.post('/api/phrases/state', { phraseIds: [ids[2]], state: 'kept' });
  await api.post('/api/twice/variants', { phraseIds: ids, bound: false });
  assert.deepEqual(await variants(ids[0]!), []);
  assert.equal((await twins(ids[0]!)).length, 2);
  assertProblem(await api.post('/api/twice/variants', { phraseIds: ids.slice(0, 1), bound: true }), 400, /two at least/); // prettier-ignore
});

test('a search is kept under a name, opened again and forgotten', async () => {
  const { status, body } = await api.post('/api/searches', {
    name: 'Slow basses',
    query: 'role=bass&text=60-80',
  });
  assert.equal(status, 201);
  assert.deepEqual((await api.get('/api/searches')).body, [body]);
  await api.post('/api/searches', { name: 'Slow basses', query: 'role=bass&text=60-90' });
  assert.equal((await api.get('/api/searches')).body[0].query, 'role=bass&text=60-90');
  assert.equal((await api.send('DELETE', `/api/searches/${body.id}`)).body.name, 'Slow basses');
  assertProblem(await api.send('DELETE', `/api/searches/${body.id}`), 404, /./);
});

test('the changes of a phrase follow its take: a chord put right is in its numerals and under what is like it', async () => {
  const { id, takeId } = await kept();
  const before = (await api.get(`/api/phrases/${id}`)).body;
  assert.equal(before.changes.length > 1, true);
  const bar = before.clip.timeline.ppq * 4;
  await api.post(`/api/takes/${takeId}/moves`, {
    move: { move: 'chord', fromTick: 0, toTick: (bar * 480) / 960, symbol: 'Bb' },
  });
  const after = (await api.get(`/api/phrases/${id}`)).body;
  assert.equal(after.changes[0].symbol, 'Bb');
  assert.match(after.numerals, /^ VI /);
  assert.ok((await idsOf('starts=VI')).includes(id));
  await until('it is read anew', async () => (await api.get('/api/status')).body.unmarked === 0);
});
