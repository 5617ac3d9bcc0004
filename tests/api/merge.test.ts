import assert from 'node:assert/strict';
import { test } from 'node:test';
import { strToU8, zipSync } from 'fflate';
import { eq } from 'drizzle-orm';
import { OUT } from '../../src/core/exchange/out-options.ts';
import { contributors, phraseParents, takes } from '../../src/server/db/schema.ts';
import { lookAtPack, type MergeTable } from '../../src/server/library/handoff/merging.ts';
import { getPhrase, savePhrase } from '../../src/server/library/phrases/phrases.ts';
import { takePack } from '../../src/server/library/handoff/taking-packs.ts';
import { BLANK_CARD } from '../../src/core/exchange/card.ts';
import { addToBasket, createBasket } from '../../src/server/library/handoff/baskets.ts';
import { habitsForTake } from '../../src/server/library/takes/habits.ts';
import { packBasket } from '../../src/server/library/handoff/packing.ts';
import { createRecipient } from '../../src/server/library/handoff/recipients.ts';
import { assertProblem } from '../support/api.ts';
import { semitoneUp, withoutLastNote } from '../support/midi-edits.ts';
import { contents, edited, fates, filled, lentLibrary, packed, singles } from '../support/packs.ts';
import { serverForTests } from '../support/suite.ts';

/** Packs that come back, or come from somebody else: held against the library, and taken in without losing anything of either side. */

const { api } = await serverForTests();

test('what comes back as it left is the same, and taking it writes nothing', async () => {
  const home = await lentLibrary();
  const zip = await packed(home, await filled(home));
  const before = await contents(home);
  assert.deepEqual(fates(await lookAtPack(home.db, zip)), ['same', 'same', 'same', 'same']);
  const { written } = await takePack(home, zip, { all: 'child' });
  assert.equal(written, 0);
  assert.deepEqual(await contents(home), before);
});

test('into an empty library: notes, tags, sheaves, chords, rights and names are those that left; and from there it comes back as the same', async () => {
  const [home, away] = [await lentLibrary(), await lentLibrary()];
  const ids = await filled(home);
  const zip = await packed(home, ids);
  const table = await lookAtPack(away.db, zip);
  assert.deepEqual(fates(table), ['new', 'new', 'new', 'new']);
  assert.equal(table.isOurs, false);
  const { written } = await takePack(away, zip, { all: 'child' });
  assert.equal(written, 4);
  for (const id of ids) {
    const [here, there] = [await getPhrase(home.db, id), await getPhrase(away.db, id)];
    const told = ({ name, role, bars, tags, rights, bpm, program }: typeof here) => ({ name, role, bars, tags, rights, bpm, program }); // prettier-ignore
    assert.deepEqual(told(there), told(here));
    const chords = ({ changes }: typeof here) =>
      changes?.map(({ beat, beats, symbol }) => [beat, beats, symbol]);
    if (here.role !== 'drums') assert.deepEqual(chords(there), chords(here));
    assert.deepEqual(there.siblings.length, here.siblings.length);
    // Files have 480 ticks a quarter note, the library has 960.
    const notes = ({ clip }: typeof here) => clip.notes.map(({ tick, duration, pitch, velocity }) => [Math.round(tick / 2), Math.round((tick + duration) / 2), pitch, velocity]); // prettier-ignore
    assert.deepEqual(notes(there), notes(here));
  }
  const { habits } = await habitsForTake(away.db, (await getPhrase(away.db, ids[0]!)).takeId);
  assert.deepEqual(habits, [], 'how they came is no habit of anybody here');
  const back = await packed(away, ids);
  assert.deepEqual(fates(await lookAtPack(home.db, back)), ['same', 'same', 'same', 'same']);
  assert.equal((await takePack(away, zip, { all: 'child' })).written, 0, 'once more is no change');
});

test('what they changed is told in words and taken as a child of ours; the same pack once more changes nothing', async () => {
  const home = await lentLibrary();
  const ids = await filled(home);
  const zip = edited(await packed(home, ids), (files) => {
    const bass = singles(files).find((name) => /bass/.test(name))!;
    return { ...files, [bass]: semitoneUp(files[bass]!) };
  });
  const table = await lookAtPack(home.db, zip);
  assert.deepEqual(fates(table).sort(), ['same', 'same', 'same', 'theirs changed']);
  const row = table.rows.find(({ fate }) => fate === 'theirs changed')!;
  assert.match(row.text, /1 semitone up/);
  const { written } = await takePack(home, zip, { all: 'child' });
  assert.equal(written, 1);
  const [link] = await home.db.select().from(phraseParents).where(eq(phraseParents.parentPhraseId, row.ours!.id)); // prettier-ignore
  assert.match(link!.done, /came back from .*1 semitone up/);
  const child = await getPhrase(home.db, link!.phraseId);
  const parent = await getPhrase(home.db, row.ours!.id);
  assert.equal(child.clip.notes.length, parent.clip.notes.length);
  const after = await contents(home);
  assert.equal((await takePack(home, zip, { all: 'child' })).written, 0);
  assert.deepEqual(await contents(home), after);
});

test('instead of ours: theirs stands under our id, and ours as it was is set aside as its parent', async () => {
  const home = await lentLibrary();
  const [id] = await filled(home);
  const zip = edited(
    await packed(home, [id!]),
    (files) =>
    Object.fromEntries(Object.entries(files).map(([name, bytes]) => [name, singles(files).includes(name) ? semitoneUp(bytes) : bytes])), // prettier-ignore
  );
  const before = await getPhrase(home.db, id!);
  await takePack(home, zip, { all: 'theirs' });
  const after = await getPhrase(home.db, id!);
  assert.notDeepEqual(after.clip.notes, before.clip.notes);
  const [link] = await home.db.select().from(phraseParents).where(eq(phraseParents.phraseId, id!));
  const kept = await getPhrase(home.db, link!.parentPhraseId!);
  assert.deepEqual(kept.clip.notes, before.clip.notes);
  assert.equal(kept.state, 'discarded');
  assert.deepEqual(fates(await lookAtPack(home.db, zip)), ['same']);
});

test('changed on both sides, kept as ours, renamed, left out, put beside: each is told as what it is', async () => {
  const home = await lentLibrary();
  const ids = await filled(home);
  const zip = edited(await packed(home, ids), (files) => {
    const [first, second, third, ...rest] = singles(files);
    const { [second!]: renamed, [third!]: _, ...others } = files;
    return { ...others, [first!]: semitoneUp(files[first!]!), 'again/other name.mid': renamed!, 'new/answer.mid': semitoneUp(files[rest[0]!]!.slice()) }; // prettier-ignore
  });
  const table = await lookAtPack(home.db, zip);
  assert.deepEqual(fates(table).slice(0, 3), ['theirs changed', 'same', 'not sent back']);
  const { written } = await takePack(home, zip, { all: 'ours' });
  assert.equal(written, 0);
  const again = await lookAtPack(home.db, zip);
  assert.equal(fates(again)[0], 'same', 'what was decided is not asked again');
});

test('changed here, and changed on both sides; a change that both made is none', async () => {
  const home = await lentLibrary();
  const ids = await filled(home);
  const zip = await packed(home, ids);
  const bass = ids[3]!;
  const changed = async (semitones: number) => {
    const { name, role, takeKey, recipe, tags, projectId, rights, state } = await getPhrase(home.db, bass);
    const steps = [...recipe.steps.filter(({ step }) => step !== 'octave'), { step: 'octave' as const, by: semitones / 12 }]; // prettier-ignore
    await savePhrase(home.db, bass, { name, role, takeKey, tags, projectId, rights, state, recipe: { ...recipe, steps } }); // prettier-ignore
  };
  await changed(12);
  const last = (table: MergeTable) => table.rows.find(({ id }) => id === bass)!.fate;
  assert.equal(last(await lookAtPack(home.db, zip)), 'ours changed');
  const theirs = edited(zip, (files) => {
    const name = singles(files).find((one) => one.includes('04_'))!;
    return { ...files, [name]: semitoneUp(files[name]!) };
  });
  assert.equal(last(await lookAtPack(home.db, theirs)), 'both changed');
  const octave = edited(zip, (files) => {
    const name = singles(files).find((one) => one.includes('04_'))!;
    let up = files[name]!;
    for (let k = 0; k < 12; k++) up = semitoneUp(up);
    return { ...files, [name]: up };
  });
  assert.equal(last(await lookAtPack(home.db, octave)), 'same');
  const before = (await contents(home)).length;
  await takePack(home, theirs, { all: 'both' });
  assert.equal((await contents(home)).length, before + 1, 'theirs stands beside ours');
});

test('what comes along with the notes: without it no tags, no chords, and neither sound nor place', async () => {
  const [home, away] = [await lentLibrary(), await lentLibrary()];
  const ids = await filled(home);
  const zip = await packed(home, ids);
  await takePack(away, zip, { all: 'child', along: { tags: false, changes: false, sound: false } });
  for (const id of ids) {
    const [here, there] = [await getPhrase(home.db, id), await getPhrase(away.db, id)];
    assert.equal(there.clip.notes.length, here.clip.notes.length);
    assert.deepEqual([there.tags, there.program], [[], 0]);
    assert.ok(there.clip.controls.every(({ kind, data1 }) => kind !== 0xb0 || ![7, 10, 11].includes(data1)));
    if (here.role !== 'drums') assert.ok(here.changes!.length > 0 && !there.changes?.length);
  }
});

test("a file put beside a pack of another library is its sender's, and offered once", async () => {
  const [home, away] = [await lentLibrary(), await lentLibrary()];
  const zip = edited(await packed(home, await filled(home)), (files) => ({ ...files, 'new/answer.mid': semitoneUp(files[singles(files)[0]!]!.slice()) })); // prettier-ignore
  assert.deepEqual((await lookAtPack(away.db, zip)).added.map(({ isTaken }) => isTaken), [false]); // prettier-ignore
  await takePack(away, zip, { all: 'child' });
  assert.deepEqual((await lookAtPack(away.db, zip)).added.map(({ isTaken }) => isTaken), [true]); // prettier-ignore
  const [put] = await away.db
    .select({ by: contributors.name })
    .from(takes)
    .innerJoin(contributors, eq(contributors.id, takes.contributorId))
    .where(eq(takes.fileName, 'answer.mid'));
  assert.equal(put?.by, 'The ferryman');
});

test('a kit that left in a file a piece comes back whole', async () => {
  const [home, away] = [await lentLibrary(), await lentLibrary()];
  const ids = await filled(home);
  const zip = await packed(home, ids, { ...OUT, as: 'each', kit: 'files' });
  assert.deepEqual(fates(await lookAtPack(home.db, zip)), ['same', 'same', 'same', 'same']);
  await takePack(away, zip, { all: 'child' });
  for (const id of ids) {
    const [here, there] = [await getPhrase(home.db, id), await getPhrase(away.db, id)];
    const hits = ({ clip }: typeof here) => clip.notes.map(({ tick, pitch }) => `${Math.round(tick / 2)} ${pitch}`).sort(); // prettier-ignore
    assert.deepEqual(hits(there), hits(here));
  }
});

test('two packs in either order give one library', async () => {
  const [one, other] = [await lentLibrary(), await lentLibrary()];
  const source = await lentLibrary();
  const ids = await filled(source);
  const zip = await packed(source, ids);
  const change = (at: number) =>
    edited(zip, (files) => {
      const name = singles(files)[at]!;
      return { ...files, [name]: semitoneUp(semitoneUp(files[name]!)) };
    });
  const packs = [change(0), change(1), edited(zip, (files) => ({ ...files, [singles(files)[0]!]: semitoneUp(files[singles(files)[0]!]!) }))]; // prettier-ignore
  for (const home of [one, other]) await takePack(home, zip, { all: 'child' });
  for (const pack of packs) await takePack(one, pack, { all: 'child' });
  for (const pack of [...packs].reverse()) await takePack(other, pack, { all: 'child' });
  assert.deepEqual(await contents(one), await contents(other));
  assert.equal((await contents(one)).length, 7);
});

test('all in one file: each phrase is found on its own track and in its own bars', async () => {
  const [home, away] = [await lentLibrary(), await lentLibrary()];
  const ids = await filled(home);
  const zip = await packed(home, ids, { ...OUT, as: 'one', countIn: 1 });
  assert.deepEqual(fates(await lookAtPack(home.db, zip)), ['same', 'same', 'same', 'same']);
  await takePack(away, zip, { all: 'child' });
  for (const id of ids) {
    const [here, there] = [await getPhrase(home.db, id), await getPhrase(away.db, id)];
    const pitches = ({ clip }: typeof here) =>
      clip.notes.map(({ tick, pitch }) => [Math.round(tick / 2), pitch]);
    assert.deepEqual(pitches(there), pitches(here));
  }
});

test('over HTTP: a pack is laid down, looked at, taken and let go; what is none is refused with a sentence', async () => {
  const home = await lentLibrary();
  const zip = await packed(home, await filled(home));
  const send = (bytes: Uint8Array) => api.sendFile('/api/merge', bytes, 'pack.zip');
  const { status, body } = await send(zip);
  assert.equal(status, 201);
  const waiting = (await api.get('/api/merge')).body.packs;
  assert.deepEqual(
    waiting.map(({ id, phrases: count }: { id: string; phrases: number }) => [id, count]),
    [[body.id, 4]],
  );
  const table = (await api.get(`/api/merge/${body.id}`)).body;
  assert.deepEqual(fates(table), ['new', 'new', 'new', 'new']);
  const heard = await api.get(`/api/merge/${body.id}/heard?phrase=${table.rows[0].id}`);
  assert.ok(heard.body.clip.notes.length > 0);
  const ways = { [table.rows[3].id]: 'ours' };
  const taken = await api.post(`/api/merge/${body.id}`, { all: 'child', ways });
  assert.equal(taken.body.written, 3);
  assertProblem(await api.post(`/api/merge/${body.id}`, { all: 'perhaps' }), 400, /one of/);
  await api.send('DELETE', `/api/merge/${body.id}`);
  assertProblem(await api.get(`/api/merge/${body.id}`), 404, /no such pack/);

  const manifest = (change: object) =>
    edited(zip, (files) => {
      const name = Object.keys(files).find((one) => one.endsWith('manifest.json'))!;
      const said = JSON.parse(new TextDecoder().decode(files[name]));
      return { ...files, [name]: strToU8(JSON.stringify({ ...said, ...change })) };
    });
  for (const [bytes, sentence] of [
    [strToU8('no zip'), /no ZIP/],
    [zipSync({ 'a.mid': new Uint8Array() }), /no manifest/],
    [manifest({ version: 9 }), /later version \(9\)/],
    [manifest({ format: 'another' }), /no pack of ours/],
    [manifest({ phrases: [{ file: '../../up.mid' }] }), /manifest/],
    [manifest({ phrases: 'none' }), /manifest/],
  ] as const) {
    const answer = await send(bytes);
    assertProblem(answer, 422, sentence);
  }
  assert.deepEqual((await api.get('/api/merge')).body.packs, [], 'nothing of it is kept');
});

test('what was fitted for somebody comes back as it is kept here: their edit, without our shift and level', async () => {
  const home = await lentLibrary();
  const [id] = await filled(home);
  const card = { ...BLANK_CARD, roles: { drums: { loud: 0.5, ms: -30 }, bass: { loud: 0.5, ms: -30 } } };
  const { id: recipientId } = await createRecipient(home.db, 'The string player', card);
  const basket = await createBasket(home.db, 'For her', null, recipientId);
  await addToBasket(home.db, basket.id, [id!]);
  const { bytes } = await packBasket(home, basket.id, new Date().toISOString(), new AbortController().signal);
  assert.deepEqual(fates(await lookAtPack(home.db, bytes)), ['same']);
  const before = await getPhrase(home.db, id!);
  const shorter = edited(bytes, (files) => {
    const [name] = singles(files);
    return { ...files, [name!]: withoutLastNote(files[name!]!) };
  });
  const table = await lookAtPack(home.db, shorter);
  assert.equal(table.rows[0]!.text, '1 note gone');
  assert.equal(table.from, 'The string player');
  const { phraseIds } = await takePack(home, shorter, { all: 'child' });
  const child = await getPhrase(home.db, phraseIds[0]!);
  const told = ({ clip }: typeof child) => clip.notes.map(({ tick, pitch, velocity }) => [Math.round(tick / 2), pitch, velocity]); // prettier-ignore
  assert.deepEqual(told(child), told(before).slice(0, -1));
  assert.match(child.name, /from/);
});
