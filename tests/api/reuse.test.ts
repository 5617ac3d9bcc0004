import assert from 'node:assert/strict';
import { after, before, test } from 'node:test';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import type { RecipeStep } from '../../src/core/normalize/recipe.ts';
import { childRecipe, inKeptKey, writtenChanges } from '../../src/core/reuse/child.ts';
import { bandFile } from '../../src/core/standins/band.ts';
import type { PhraseDetail } from '../../src/server/library/phrases/phrases.ts';
import { apiClient, assertProblem, type Api } from '../support/api.ts';
import { startTestServer, type TestServer } from '../support/server.ts';

let server: TestServer;
let api: Api;
let phraseIds: string[];
before(async () => {
  server = await startTestServer();
  api = apiClient(server.address);
  const band = bandFile({ chart: 'Dm | Gm | A7 | Dm', style: 'river', bpm: 96, seed: 3, title: 'x', mishaps: [], looseness: 20 }); // prettier-ignore
  const { takeIds } = (await api.upload(writeMidiFile(band), 'river.mid')).body;
  phraseIds = (await api.post(`/api/takes/${takeIds[0]}/make`, {})).body.phraseIds;
  await api.post('/api/phrases/state', { phraseIds, state: 'kept' });
});
after(() => server.remove());

const phrase = async (id: string) => (await api.get(`/api/phrases/${id}`)).body as PhraseDetail;

/** The phrases of the sheaf over other chords. */
async function through(to: string, key: string) {
  const parents = await Promise.all(phraseIds.map(phrase));
  return parents.map((parent) => {
    const known = writtenChanges(parent.changes, parent.meterNumerator);
    const step: RecipeStep = {
      step: 'through',
      from: inKeptKey(known, parent.takeKey, parent.clip),
      to,
      key,
    };
    return {
      parentId: parent.id,
      recipe: childRecipe(parent.recipe, [step]),
      name: `${parent.name}, elsewhere`,
    };
  });
}

test('children of a sheaf: in the key of the chords they went through, with those chords, their parents untouched', async () => {
  const before = await Promise.all(phraseIds.map(phrase));
  const children = await through('Eb | Cm Ab | Bb7 | Eb', 'Eb');
  const made = await api.post('/api/phrases/children', {
    children,
    done: 'through Eb',
    tags: ['reused'],
    projectId: null,
  });
  assert.equal(made.status, 201, JSON.stringify(made.body));
  assert.equal(made.body.phraseIds.length, phraseIds.length);
  const kept = await Promise.all((made.body.phraseIds as string[]).map(phrase));
  for (const [k, child] of kept.entries()) {
    const parent = before[k]!;
    assert.equal(child.state, 'kept');
    assert.deepEqual(child.tags, ['reused']);
    assert.equal(child.sheafId, made.body.sheafId);
    if (child.role === 'drums') {
      assert.deepEqual(child.clip.notes, parent.clip.notes, 'drums have no chords to follow');
      continue;
    }
    assert.deepEqual(child.takeKey, { tonic: 3, mode: 'major' });
    assert.deepEqual(child.capturedKey, parent.takeKey);
    assert.equal(child.changes!.map(({ symbol }) => symbol).join(' '), 'Eb Cm Ab Bb7 Eb');
    assert.match(child.numerals, / I vi IV V7 I /);
    const inEb = new Set([3, 5, 7, 8, 10, 0, 2]);
    const outside = child.clip.notes.filter(({ pitch }) => !inEb.has(pitch % 12));
    assert.ok(outside.length <= child.clip.notes.length / 8, `${child.role}: ${outside.length} outside`);
  }
  const after = await Promise.all(phraseIds.map(phrase));
  assert.deepEqual(after, before);
  const { parents } = (await api.get(`/api/phrases/${kept[0]!.id}/relatives`)).body;
  assert.deepEqual(
    parents.map(({ id, done, changed }: { id: string; done: string; changed: boolean }) => [
      id,
      done,
      changed,
    ]),
    [[phraseIds[0], 'through Eb', false]],
  );
  assert.equal((await api.get('/api/status')).body.reuse, phraseIds.length);
});

test('a child is another phrase: keeping its bars again finds its parent', async () => {
  const parent = await phrase(phraseIds[0]!);
  const recipe = childRecipe(parent.recipe, [{ step: 'density', level: -1 }]);
  const child = { parentId: parent.id, recipe, name: 'Calmer' };
  await api.post('/api/phrases/children', { children: [child], done: 'calmer', tags: [], projectId: null });
  const { parts } = (await api.get(`/api/takes/${parent.takeId}/base`)).body;
  const part = parts.find(({ name }: { name: string }) => name === parent.partName);
  const again = await api.post('/api/phrases', {
    ...{ takeId: parent.takeId, parts: [part.id], startBar: parent.startBar, bars: parent.bars, keep: true },
  });
  assert.deepEqual([again.body.already, again.body.phraseIds], [true, [parent.id]]);
});

test('a child is told that its parent changed, and is made anew of it only when asked', async () => {
  const [first] = await through('Gm | Dm', 'Dm');
  const { phraseIds: [childId] } = (await api.post('/api/phrases/children', { children: [first], done: 'through Gm', tags: [], projectId: null })).body; // prettier-ignore
  const before = await phrase(childId);
  const parent = await phrase(first!.parentId);
  const { name, role, takeKey, tags, projectId, rights, state, recipe } = parent;
  const louder = {
    ...recipe,
    steps: recipe.steps.map((step) => (step.step === 'velocity' ? { ...step, loud: 0.5 } : step)),
  };
  assert.equal((await api.put(`/api/phrases/${parent.id}`, { name, role, takeKey, tags, projectId, rights, state, recipe: louder })).status, 200); // prettier-ignore
  const told = (await api.get(`/api/phrases/${childId}/relatives`)).body.parents[0];
  assert.equal(told.changed, true);
  assert.deepEqual((await phrase(childId)).clip, before.clip, 'nothing follows by itself');
  const followed = await api.post(`/api/phrases/${childId}/follow`, {});
  assert.equal(followed.status, 200, JSON.stringify(followed.body));
  const loud = (clip: PhraseDetail['clip']) => Math.max(...clip.notes.map(({ velocity }) => velocity));
  assert.ok(loud(followed.body.clip) < loud(before.clip) - 20);
  assert.deepEqual(
    followed.body.clip.notes.map((note: { pitch: number }) => note.pitch),
    before.clip.notes.map(({ pitch }) => pitch),
  );
  assert.equal((await api.get(`/api/phrases/${childId}/relatives`)).body.parents[0].changed, false);
});

test('what was made is a take of its own: chords and a bass, with the tune as their parent', async () => {
  const note = (tick: number, pitch: number) => ({ tick, duration: 3600, pitch, velocity: 90 });
  const made = await api.post('/api/made', {
    ...{ name: 'Chords for the river', bpm: 96, meter: { numerator: 4, denominator: 4 }, bars: 2, key: { tonic: 2, mode: 'minor' } }, // prettier-ignore
    parts: [
      {
        name: 'Keys',
        role: 'keys',
        program: 0,
        notes: [62, 65, 69].flatMap((pitch) => [note(0, pitch), note(3840, pitch + 5)]),
      },
      { name: 'Bass', role: 'bass', program: 33, notes: [note(0, 38), note(3840, 43)] },
    ],
    ...{ parentIds: [phraseIds[0]], done: 'chords for it', tags: [], projectId: null },
  });
  assert.equal(made.status, 201, JSON.stringify(made.body));
  const take = (await api.get(`/api/takes/${made.body.takeId}`)).body;
  assert.equal(take.source, 'Made here');
  const kept = await Promise.all((made.body.phraseIds as string[]).map(phrase));
  assert.deepEqual(
    kept.map(({ role, bars, state }) => [role, bars, state]),
    [
      ['keys', 2, 'kept'],
      ['bass', 2, 'kept'],
    ],
  );
  assert.deepEqual(kept[0]!.takeKey, { tonic: 2, mode: 'minor' });
  const { children } = (await api.get(`/api/phrases/${phraseIds[0]}/relatives`)).body;
  assert.ok(children.some(({ done }: { done: string }) => done === 'chords for it'));
});

test('changes that were written here are kept under their key without a take, and set aside', async () => {
  const written = { name: 'Up the river', chart: 'Dm Dm Dm A7/C# | Gm', key: { tonic: 2, mode: 'minor' }, bpm: 96, meter: { numerator: 4, denominator: 4 } }; // prettier-ignore
  const made = await api.post('/api/changes/written', written);
  assert.equal(made.status, 201, JSON.stringify(made.body));
  const kept = (await api.get('/api/changes')).body.changes.find(
    ({ id }: { id: string }) => id === made.body.id,
  );
  assert.deepEqual([kept.takeId, kept.takeName, kept.bars], [null, null, 2]);
  assert.deepEqual(
    kept.chords.map(({ beat, beats, symbol, numeral }: Record<string, unknown>) => [
      beat,
      beats,
      symbol,
      numeral,
    ]),
    [
      [0, 3, 'Dm', 'i'],
      [3, 1, 'A7/C#', 'V7'],
      [4, 4, 'Gm', 'iv'],
    ],
  );
  assertProblem(await api.post('/api/changes/written', { ...written, chart: 'Dm | Hx' }), 422, /Bar 2: "Hx"/);
  assertProblem(await api.post('/api/changes/written', { ...written, chart: '' }), 400, /no chords yet/);
  await api.patch(`/api/changes/${kept.id}`, { aside: true });
  assert.ok(
    !(await api.get('/api/changes')).body.changes.some(({ id }: { id: string }) => id === made.body.id),
  );
});

test('a layer follows each edit of its phrase', async () => {
  const parent = await phrase(phraseIds[0]!);
  const recipe = childRecipe(parent.recipe, [{ step: 'layer', octave: 1, level: 0.5, program: 49 }]);
  const { phraseIds: [layerId] } = (await api.post('/api/phrases/children', { children: [{ parentId: parent.id, recipe, name: 'Its layer' }], done: 'a layer', tags: [], projectId: null })).body; // prettier-ignore
  const before = await phrase(layerId);
  assert.equal(before.program, 48);
  const { name, role, takeKey, tags, projectId, rights, state } = parent;
  const higher = childRecipe(parent.recipe, [{ step: 'transpose', semitones: 2 } as RecipeStep]);
  const saved = await api.put(`/api/phrases/${parent.id}`, { name, role, takeKey, tags, projectId, rights, state, recipe: higher }); // prettier-ignore
  assert.equal(saved.status, 200, JSON.stringify(saved.body));
  const after = await phrase(layerId);
  const parentNow = await phrase(parent.id);
  assert.deepEqual(
    after.clip.notes.map(({ pitch }) => pitch),
    parentNow.clip.notes.map(({ pitch }) => (role === 'drums' ? pitch : pitch + 12)),
  );
  assert.equal((await api.get(`/api/phrases/${layerId}/relatives`)).body.parents[0].changed, false);
  assert.equal(after.name, before.name);
});

test('what was made for a phrase is no find that may accompany it', async () => {
  const all = await Promise.all(phraseIds.map(phrase));
  const bass = all.find(({ role }) => role === 'bass')!;
  const notes = [0, 4, 7].map((pitch) => ({ tick: 0, duration: 1900, pitch: 62 + pitch, velocity: 90 }));
  const made = await api.post('/api/made', {
    ...{
      name: 'Made for it',
      bpm: 96,
      meter: { numerator: 4, denominator: 4 },
      bars: 1,
      key: null,
      tags: [],
    },
    parts: [{ name: 'Keys', role: 'keys', program: 0, notes }],
    ...{ parentIds: [bass.id], done: 'chords for a bass', projectId: null },
  });
  assert.equal(made.status, 201, JSON.stringify(made.body));
  const found = (await api.get(`/api/phrases/${bass.id}/accompaniments`)).body as {
    phrases: { id: string }[];
  }[];
  const ids = found.flatMap(({ phrases }) => phrases.map(({ id }) => id));
  assert.ok(ids.length > 0);
  assert.ok(!ids.includes(made.body.phraseIds[0]));
});

test('what may accompany a phrase: keys, guitar and pad, the best first, each with its reasons', async () => {
  const all = await Promise.all(phraseIds.map(phrase));
  const bass = all.find(({ role }) => role === 'bass')!;
  const found = await api.get(`/api/phrases/${bass.id}/accompaniments`);
  assert.equal(found.status, 200, JSON.stringify(found.body));
  const items = found.body as { score: number; reasons: { text: string }[]; phrases: PhraseDetail[] }[];
  assert.ok(items.length > 0);
  for (const { phrases, reasons, score } of items) {
    assert.ok(phrases.every(({ role }) => ['keys', 'guitar', 'pad'].includes(role)));
    assert.ok(phrases.every(({ sheafId }) => sheafId === null || sheafId !== bass.sheafId));
    assert.equal(reasons.length, 5);
    assert.ok(score >= 0 && score <= 100);
  }
  const scores = items.map(({ score }) => score);
  assert.deepEqual(
    scores,
    [...scores].sort((a, b) => b - a),
  );
  assertProblem(
    await api.get('/api/phrases/00000000-0000-4000-8000-000000000000/accompaniments'),
    404,
    /no such phrase/,
  );
});

test('bad input has its sentence, and nothing is kept', async () => {
  const { children } = (await api.get('/api/phrases/children')).body;
  const [first] = await through('Gm | Dm', 'Dm');
  const post = (child: object, more: object = {}) =>
    api.post('/api/phrases/children', { children: [child], done: 'x', tags: [], projectId: null, ...more });
  const broken = structuredClone(first!);
  (broken.recipe.steps.find(({ step }) => step === 'through') as { to: string }).to = 'Gm | Hx';
  assertProblem(await post(broken), 422, /Bar 2: "Hx" is not a chord symbol/);
  assertProblem(
    await post({ ...first, parentId: '00000000-0000-4000-8000-000000000000' }),
    404,
    /no such phrase/,
  );
  const silent = {
    ...first!.recipe,
    steps: [
      { step: 'bars', start: 90, count: 2 },
      ...first!.recipe.steps.filter(({ step }) => step !== 'bars'),
    ],
  };
  assertProblem(await post({ ...first, recipe: silent }), 422, /no notes are left/);
  assertProblem(await api.post(`/api/phrases/${phraseIds[0]}/follow`, {}), 422, /made of no other/);
  assertProblem(
    await api.post('/api/made', {
      ...{ name: 'x', bpm: 96, meter: { numerator: 4, denominator: 4 }, bars: 2, key: null },
      ...{ parts: [], parentIds: [], done: 'x', tags: [], projectId: null },
    }),
    422,
    /no notes/,
  );
  assert.deepEqual((await api.get('/api/phrases/children')).body.children, children);
});
