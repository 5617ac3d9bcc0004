import assert from 'node:assert/strict';
import { test } from 'node:test';
import { pulled } from '../../src/core/capture/retime.ts';
import { readTakes } from '../../src/core/capture/take.ts';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import { noteSet } from '../../src/core/split/note-set.ts';
import { bandFile } from '../../src/core/standins/band.ts';
import type { Mishap } from '../../src/core/standins/mishaps.ts';
import { assertProblem, editOf } from '../support/api.ts';
import { serverForTests } from '../support/suite.ts';

const { api } = await serverForTests();

async function takeIn(seed: number, mishaps: Mishap[] = []): Promise<string> {
  const chart = 'Dm | Gm | A7 | Dm | Bb | Gm | A7 | Dm';
  const file = bandFile({ chart, style: 'river', bpm: 96, seed, title: 'x', mishaps, looseness: 0 });
  return (await api.upload(writeMidiFile(file), `song ${seed}.mid`)).body.takeIds[0];
}

const move = (id: string, body: unknown) => api.post(`/api/takes/${id}/moves`, { move: body });
const partOf = async (id: string, name: string) => {
  const bytes = (await api.get(`/api/takes/${id}/parts?as=file`)).body as Uint8Array;
  const [take] = readTakes(bytes);
  return { take: take!, name };
};

test('a late take is pulled: parts leave and phrases are cut in the new time, and all can be taken back', async () => {
  const id = await takeIn(1, ['lateStart']);
  const before = await partOf(id, 'all');
  const answer = await move(id, { move: 'retime', how: 'pull back by 1.5 beats', ...pulled(720) });
  assert.equal(answer.status, 200, JSON.stringify(answer.body));
  const after = await partOf(id, 'all');
  assert.equal(before.take.notes.tick[0]! - after.take.notes.tick[0]!, 720);

  const made = await api.post('/api/phrases', { takeId: id, parts: ['p1'], startBar: 1, bars: 4 });
  assert.equal(made.status, 201, JSON.stringify(made.body));
  const phrase = (await api.get(`/api/phrases/${made.body.phraseIds[0]}`)).body;
  assert.equal(phrase.corrections.length, 1);
  // Taken back, the take is late again, and the phrase stays what it was made of.
  await api.send('POST', `/api/takes/${id}/undo`);
  assert.equal((await partOf(id, 'all')).take.notes.tick[0], before.take.notes.tick[0]);
  const saved = await api.put(`/api/phrases/${phrase.id}`, editOf(phrase));
  assert.equal(saved.body.noteCount, phrase.noteCount);
  assert.equal(saved.body.bars, 4);
});

test('moves that make no sense are refused with a sentence and change nothing', async () => {
  const id = await takeIn(2);
  const cases: [unknown, RegExp][] = [
    [{ move: 'retime', how: 'back', anchors: [[0, 100], [100, 0]] }, /follow each other in time/], // prettier-ignore
    [{ move: 'retime', how: 'none', anchors: [[0, 0]] }, /at least 2/],
    [{ move: 'chord', fromTick: 0, toTick: 480, symbol: 'Xyz' }, /not a chord symbol/],
    [{ move: 'repitch', notes: noteSet([1]), by: 99 }, /by/],
    [{ move: 'weigh', part: 'p1', weight: 3 }, /weight/],
    [{ move: 'sections', sections: [{ startBar: 0, bars: 1, label: 'A', purpose: 'groove' }] }, /startBar/],
    [{ move: 'sections', sections: [{ startBar: 1, bars: 1, label: 'A', purpose: 'overture' }] }, /purpose/],
  ];
  for (const [body, sentence] of cases) assertProblem(await move(id, body), 400, sentence);
  assertProblem(await move(id, { move: 'weigh', part: 'p99', weight: 1 }), 422, /no part p99/);
  assert.equal((await api.get(`/api/takes/${id}`)).body.movesDone, 0);
});

test('phrases know the chords of their bars, are found by them, and follow what is corrected', async () => {
  const id = await takeIn(3);
  const { body: take } = await api.get(`/api/takes/${id}`);
  const made = await api.post('/api/phrases', {
    takeId: id,
    parts: ['p1', 'p2', 'p3'],
    startBar: 1,
    bars: 4,
  });
  await api.post('/api/phrases/state', { phraseIds: made.body.phraseIds, state: 'kept' });
  const pitched = (await api.get('/api/phrases?starts=i&ends=i')).body.phrases;
  assert.ok(pitched.length >= 1);
  assert.deepEqual(
    (await api.get('/api/phrases?changes=V7+i')).body.phrases
      .map((phrase: { id: string }) => phrase.id)
      .sort(),
    pitched.map((phrase: { id: string }) => phrase.id).sort(),
  );
  assert.equal((await api.get('/api/phrases?changes=bII+i')).body.phrases.length, 0);
  // A wildcard is a letter like others.
  assert.equal((await api.get('/api/phrases?starts=%25')).body.phrases.length, 0);

  const harmony = (await api.get('/api/harmony')).body;
  assert.equal(
    harmony.lines.reduce((sum: number, line: { count: number }) => sum + line.count, 0),
    1,
    'the parts of a sheaf sound under one progression: it counts once',
  );
  assert.equal(harmony.keys[0].tonic, take.keys[0].tonic);

  const ppq = take.facts.ppq;
  await move(id, { move: 'chord', fromTick: 0, toTick: 4 * ppq, symbol: 'Bb' });
  assert.equal((await api.get('/api/phrases?starts=VI')).body.phrases.length, pitched.length);
  await api.send('POST', `/api/takes/${id}/undo`);
  assert.equal((await api.get('/api/phrases?starts=VI')).body.phrases.length, 0);
});

test('changes are kept under their key, renamed, set aside and brought back', async () => {
  const id = await takeIn(4);
  const kept = await api.post('/api/changes', { takeId: id, startBar: 1, bars: 4, name: 'Verse' });
  assert.equal(kept.status, 201, JSON.stringify(kept.body));
  assert.deepEqual(
    kept.body.chords.map(({ symbol, beats }: { symbol: string; beats: number }) => [
      symbol.split('/')[0],
      beats,
    ]),
    [['Dm', 4], ['Gm', 4], ['A7', 4], ['Dm', 4]], // prettier-ignore
  );
  assert.deepEqual([kept.body.keyTonic, kept.body.keyMode], [2, 'minor']);
  assert.equal((await api.patch(`/api/changes/${kept.body.id}`, { name: 'Refrain' })).status, 204);
  const names = async () =>
    (await api.get('/api/changes')).body.changes.map(({ name }: { name: string }) => name);
  assert.deepEqual(await names(), ['Refrain']);
  await api.patch(`/api/changes/${kept.body.id}`, { aside: true });
  assert.deepEqual(await names(), []);
  await api.patch(`/api/changes/${kept.body.id}`, { aside: false });
  assert.deepEqual(await names(), ['Refrain']);

  assertProblem(
    await api.post('/api/changes', { takeId: id, startBar: 999, bars: 1, name: 'x' }),
    422,
    /ends with bar/,
  );
  assertProblem(
    await api.post('/api/changes', { takeId: id, startBar: 1, bars: 1, name: ' ' }),
    400,
    /needs a name/,
  );
  assertProblem(await api.patch(`/api/changes/${id}`, { aside: true }), 404, /changes/);
});

test('fields that nobody asked for are left out, and never reach a table', async () => {
  const id = await takeIn(5);
  const answer = await api.patch('/api/takes', { ids: [id], change: { aside: true }, sha256: 'x' });
  assert.equal(answer.status, 200, JSON.stringify(answer.body));
  assert.equal((await api.get(`/api/takes/${id}`)).body.aside, false);
});
