import assert from 'node:assert/strict';
import { test } from 'node:test';
import { unzipSync } from 'fflate';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import { bandFile } from '../../src/core/standins/band.ts';
import { assertProblem } from '../support/api.ts';
import { semitoneUp } from '../support/midi-edits.ts';
import { singles } from '../support/packs.ts';
import { serverForTests } from '../support/suite.ts';

/** A plain file that left once and comes in again like any other: it is known, and what was done to it is told. */

const { api } = await serverForTests();

const song = (seed: number) =>
  writeMidiFile(bandFile({ chart: 'Em | Am | B7 | Em', style: 'river', bpm: 96, seed, title: 'Ferry' }));

const takeIn = async (bytes: Uint8Array, name: string) =>
  (await api.upload(bytes, name)).body.takeIds[0] as string;

const cameBack = async (id: string) => (await api.get(`/api/takes/${id}/came-back`)).body.parts;

test('a file that left in a pack is known when it comes in, and kept as a child of what left', async () => {
  const takeId = await takeIn(song(7), 'ferry.mid');
  assert.deepEqual(await cameBack(takeId), [], 'nothing has left yet');
  const request = { takeId, parts: ['p2'], startBar: 1, bars: 4, keep: true };
  const [phraseId] = (await api.post('/api/phrases', request)).body.phraseIds;
  const basket = (await api.post('/api/baskets', { name: 'For somebody', projectId: null })).body.id;
  await api.post(`/api/baskets/${basket}/items`, { phraseIds: [phraseId] });
  const files = unzipSync((await api.get(`/api/baskets/${basket}/pack`)).body as Uint8Array);
  const [name] = singles(files);
  assert.deepEqual(await cameBack(takeId), [], 'the take that it was cut from has not come back');

  const back = await takeIn(semitoneUp(files[name!]!), 'answer.mid');
  const [part] = await cameBack(back);
  assert.deepEqual([part.phraseId, part.verdict, part.text], [phraseId, 'came back', '1 semitone up']);
  const kept = await api.post(`/api/takes/${back}/came-back`, { part: part.part, phraseId });
  assert.equal(kept.status, 201);
  const { nodes } = (await api.get(`/api/lineage?phrase=${kept.body.phraseId}`)).body;
  assert.ok(nodes.some(({ id }: { id: string }) => id === phraseId), 'lineage shows the way back'); // prettier-ignore

  const stranger = await takeIn(song(11), 'another.mid');
  assert.ok((await cameBack(stranger)).every((one: { verdict: string }) => one.verdict !== 'same'));
  assertProblem(await api.post(`/api/takes/${stranger}/came-back`, { part: 'p1', phraseId }), 422, /not that phrase/); // prettier-ignore
});
