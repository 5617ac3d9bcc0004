import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { test } from 'node:test';
import { unzipSync } from 'fflate';
import { parseMidi } from 'midi-file';
import { BLANK_CARD } from '../../src/core/exchange/card.ts';
import { OUT } from '../../src/core/exchange/out-options.ts';
import { readTakes } from '../../src/core/capture/take.ts';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import { band } from '../../src/core/standins/band.ts';
import { performanceFile } from '../../src/core/standins/performance.ts';
import { assertProblem } from '../support/api.ts';
import { serverForTests } from '../support/suite.ts';

/** Recipients: what is on their cards is applied on the way out only, and how things leave is kept in mind for each. */

const { api } = await serverForTests();

const takeIn = async (seed: number) => {
  const bytes = writeMidiFile(performanceFile(band.play({ ...band.defaults, seed }, [])));
  return (await api.upload(bytes, `crossing ${seed}.mid`)).body.takeIds[0] as string;
};

const recipient = async (name: string, card: object) =>
  (await api.post('/api/recipients', { name, card: { ...BLANK_CARD, ...card } })).body.id as string;

const pitches = (bytes: Uint8Array, channel: number) => {
  const { notes } = readTakes(bytes)[0]!;
  return [...new Set([...notes.pitch].filter((_, i) => notes.channel[i] === channel))].sort((a, b) => a - b);
};

test('a take is looked at before it leaves: its parts, sections, files, and what stays', async () => {
  const id = await takeIn(1);
  const { status, body: plan } = await api.post('/api/leaving/plan', { kind: 'take', id });
  assert.equal(status, 200);
  assert.ok(plan.parts.length > 3 && plan.bars > 3);
  assert.equal(plan.files.length, plan.parts.length + 1, 'a file a part and one of all');
  const { facts } = (await api.get(`/api/takes/${id}`)).body;
  assert.equal(plan.files.at(-1).notes, facts.notes, 'no note is lost on the way');
  const [first] = plan.parts;
  const some = await api.post('/api/leaving/plan', {
    ...{ kind: 'take', id, out: { ...OUT, as: 'each' } },
    scope: { bars: { from: 2, to: 3 }, parts: [first.id] },
  });
  assert.deepEqual(
    some.body.files.map(({ bars }: { bars: number }) => bars),
    [2],
  );
  assert.equal(some.body.stays.length, plan.parts.length - 1);
  assert.ok(plan.checks.some(({ check }: { check: string }) => check === 'reads back'));
});

test('a kit goes to the keys on the card, in format 0, and the library stays as it is; heard here it is on our keys', async () => {
  const id = await takeIn(2);
  const forWhom = await recipient('Somebody with pads', { drumMap: [[36, 24]], format: 0, as: 'one' });
  const asked = { kind: 'take', id, recipientId: forWhom };
  const { body: plan } = await api.post('/api/leaving/plan', asked);
  assert.deepEqual([plan.out.format, plan.out.as, plan.out.fitting], [0, 'one', 'card']);
  const { body: left } = await api.post('/api/leaving/file', { ...asked, out: plan.out });
  assert.equal(parseMidi(left).header.format, 0);
  assert.ok(pitches(left, 9).includes(24) && !pitches(left, 9).includes(36));
  const { body: heard } = await api.post('/api/leaving/heard', { ...asked, out: plan.out });
  assert.ok(pitches(heard, 9).includes(36) && !pitches(heard, 9).includes(24));
  const { body: plain } = await api.post('/api/leaving/file', {
    ...asked,
    out: { ...plan.out, fitting: 'plain' },
  });
  assert.ok(pitches(plain, 9).includes(36));
});

test('how things last left, and on which sounds, is kept in mind for each recipient', async () => {
  const id = await takeIn(3);
  const [one, other] = [await recipient('One', {}), await recipient('Other', {})];
  const { body: plan } = await api.post('/api/leaving/plan', { kind: 'take', id, recipientId: one });
  const part = plan.parts.find(({ role }: { role: string }) => role === 'bass');
  const out = { ...OUT, as: 'each', countIn: 1, kit: 'files' };
  await api.post('/api/leaving/file', {
    ...{ kind: 'take', id, recipientId: one, out },
    programs: { [part.name]: 38 },
  });
  const again = await api.post('/api/leaving/plan', { kind: 'take', id, recipientId: one });
  assert.deepEqual(again.body.out, out);
  const bass = again.body.files.find(({ name }: { name: string }) => name === part.name);
  assert.equal(bass.program, 38);
  assert.ok(again.body.files.some(({ name }: { name: string }) => name.endsWith(', kick')));
  const others = await api.post('/api/leaving/plan', { kind: 'take', id, recipientId: other });
  assert.equal(others.body.out.countIn, 0);
  // What is dragged out leaves the same way.
  const { body: dragged, type } = await api.get(`/api/leaving/take/${id}?for=${one}`);
  assert.equal(type, 'application/zip');
  assert.deepEqual(Object.keys(unzipSync(dragged)).length, again.body.files.length);
});

test('a basket for somebody packs as their card says, and says so in its note', async () => {
  const takeId = await takeIn(4);
  const forWhom = await recipient('A player', { roles: { bass: { octave: -1 } }, layout: 'flat' });
  const { phraseIds } = (await api.post(`/api/takes/${takeId}/make`, {})).body;
  await api.post('/api/phrases/state', { phraseIds, state: 'kept' });
  const { id } = (await api.post('/api/baskets', { name: 'For a player', recipientId: forWhom })).body;
  await api.post(`/api/baskets/${id}/items`, { phraseIds });
  const { body: basket } = await api.get(`/api/baskets/${id}`);
  assert.deepEqual([basket.recipient, basket.layout, basket.out.fitting], ['A player', 'flat', 'card']);
  const files = unzipSync((await api.get(`/api/baskets/${id}/pack`)).body);
  const manifest = JSON.parse(new TextDecoder().decode(files['manifest.json']));
  const bass = manifest.phrases.find(({ role }: { role: string }) => role === 'bass');
  assert.deepEqual(bass.forRecipient, ['1 octave down']);
  assert.match(new TextDecoder().decode(files['read-me.txt']), /for your place: 1 octave down/);
  // Renaming them, or taking them away, leaves the basket.
  assertProblem(
    await api.post('/api/recipients', { name: 'A player', card: BLANK_CARD }),
    409,
    /already somebody/,
  );
  assert.equal((await api.send('DELETE', `/api/recipients/${forWhom}`)).status, 200);
  assert.equal((await api.get(`/api/baskets/${id}`)).body.recipientId, null);
});

test('nonsense is refused with a sentence', async () => {
  assertProblem(await api.post('/api/recipients', { name: ' ', card: BLANK_CARD }), 400, /needs a name/);
  assertProblem(
    await api.post('/api/recipients', { name: 'X', card: { ...BLANK_CARD, roles: { drums: { loud: 3 } } } }),
    400,
    /at most 100 %/,
  );
  const nobody = '00000000-0000-4000-8000-000000000000';
  assertProblem(await api.post('/api/leaving/plan', { kind: 'take', id: nobody }), 404, /take/);
  assertProblem(await api.get(`/api/leaving/tape/${nobody}`), 404, /one of take, phrase/);
  const id = await takeIn(5);
  assertProblem(await api.get(`/api/leaving/take/${id}?bars=5-2`), 400, /such as 3-6/);
  assertProblem(
    await api.post('/api/leaving/file', { kind: 'take', id, scope: { bars: null, parts: [] } }),
    422,
    /nothing chosen/,
  );
});

test('what comes from a source has its rights and tags where nothing else is said', async () => {
  const bytes = (seed: number) => writeMidiFile(performanceFile(band.play({ ...band.defaults, seed }, [])));
  const first = await api.upload(bytes(70), 'first.mid', { source: 'Thistle box' });
  const { sources } = (await api.get('/api/sources/defaults')).body;
  const { id } = sources.find(({ name }: { name: string }) => name === 'Thistle box');
  const set = await api.patch(`/api/sources/${id}`, { rights: 'own work', tags: ['thistle', 'Thistle '] });
  assert.deepEqual([set.body.rights, set.body.tags], ['own work', ['thistle']]);
  const rightsOf = async (takeId: string) => (await api.get(`/api/takes/${takeId}`)).body.rights;
  assert.equal(await rightsOf(first.body.takeIds[0]), '', 'what was there stays');
  const second = await api.upload(bytes(71), 'second.mid', { source: 'Thistle box' });
  const takeId = second.body.takeIds[0];
  assert.equal(await rightsOf(takeId), 'own work');
  const said = await api.upload(bytes(72), 'third.mid', { source: 'Thistle box', rights: 'not to leave' });
  assert.equal(await rightsOf(said.body.takeIds[0]), 'not to leave');
  const { phraseIds } = (await api.post(`/api/takes/${takeId}/make`, {})).body;
  const phrase = (await api.get(`/api/phrases/${phraseIds[0]}`)).body;
  assert.deepEqual([phrase.rights, phrase.tags], ['own work', ['thistle']]);
});

test('a SoundFont of your own is looked through, plays the roles it is told, and can be taken out', async () => {
  const send = async (name: string, bytes: Uint8Array) => {
    const body = new FormData();
    body.set('file', new File([bytes as Uint8Array<ArrayBuffer>], name));
    return api.send('POST', '/api/banks', { body });
  };
  assertProblem(await send('broken.sf2', new TextEncoder().encode('RIFF and nothing')), 422, /no SoundFont/);
  const shipped = new Uint8Array(readFileSync('public/sound/gm-bank.sf2'));
  const { status, body: bank } = await send('Own sounds.sf2', shipped);
  assert.equal(status, 201);
  assert.ok(bank.presets > 100 && bank.size === shipped.length);
  assert.equal((await send('again.sf2', shipped)).body.id, bank.id, 'the same bytes are the same bank');
  const told = await api.patch(`/api/banks/${bank.id}`, { roles: ['bass'] });
  assert.deepEqual(told.body.roles, ['bass']);
  const takeId = await takeIn(80);
  const { phraseIds } = (await api.post(`/api/takes/${takeId}/make`, {})).body;
  const { phrases } = (await api.get('/api/phrases?role=bass&state=draft')).body;
  const bass =
    phraseIds.find((id: string) => phrases.some((one: { id: string }) => one.id === id)) ?? phraseIds[0];
  await api.post('/api/phrases/state', { phraseIds: [bass], state: 'kept' });
  const { id } = (await api.post('/api/baskets', { name: 'Heard' })).body;
  await api.post(`/api/baskets/${id}/items`, { phraseIds: [bass] });
  await api.patch(`/api/baskets/${id}`, { previews: true });
  const files = unzipSync((await api.get(`/api/baskets/${id}/pack`)).body);
  assert.ok(Object.keys(files).some((path) => path.endsWith('.wav')));
  assert.equal((await api.send('DELETE', `/api/banks/${bank.id}`)).status, 200);
  assert.deepEqual((await api.get('/api/banks')).body.banks, []);
});
