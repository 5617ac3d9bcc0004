import assert from 'node:assert/strict';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { test } from 'node:test';
import { OUT } from '../../src/core/exchange/out-options.ts';
import { unzipSync } from 'fflate';
import { parseMidi } from 'midi-file';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import { bandFile } from '../../src/core/standins/band.ts';

import { assertProblem, editOf } from '../support/api.ts';
import { midiBytes, trackOf, type NoteSpec } from '../support/midi.ts';
import { midicsvNotes, withoutMidicsv } from '../support/midicsv.ts';
import { listenTo, type HeardEvent } from '../support/news.ts';
import { serverForTests } from '../support/suite.ts';

/** What leaves: in which key, at which resolution, with whose name and rights on it; read by other people's readers. */

const { api, server } = await serverForTests();

/** Em and its neighbors: the key is not in doubt. */
const song = (seed: number) =>
  writeMidiFile(bandFile({ chart: 'Em | Am | B7 | Em', style: 'river', bpm: 96, seed, title: 'Ferry' }));

async function takeIn(seed: number, fields: Record<string, string> = {}): Promise<string> {
  const { body } = await api.upload(song(seed), `ferry_${seed}.mid`, fields);
  await api.post(`/api/takes/${body.takeIds[0]}/moves`, {
    move: { move: 'chooseKey', key: { tonic: 4, mode: 'minor' } },
  });
  return body.takeIds[0];
}

async function keep(takeId: string, parts = ['p2'], startBar = 1): Promise<string[]> {
  const request = { takeId, parts, startBar, bars: 4, keep: true };
  return (await api.post('/api/phrases', request)).body.phraseIds;
}

async function basketOf(phraseIds: string[], projectId: string | null = null): Promise<string> {
  const { body } = await api.post('/api/baskets', { name: 'For the copyist', projectId });
  await api.post(`/api/baskets/${body.id}/items`, { phraseIds });
  return body.id;
}

const project = (name: string, keyTonic: number, keyMode: string) =>
  api.post('/api/projects', {
    name,
    keyTonic,
    keyMode,
    bpm: 100,
    meterNumerator: 4,
    meterDenominator: 4,
    chords: '',
  });

test('rows of a basket: headings between phrases, ways of their own; what is added stands under the last; two change different rows at once', async () => {
  const [bass] = await keep(await takeIn(61));
  const [keys] = await keep(await takeIn(62), ['p3']);
  const basket = await basketOf([bass!]);
  const path = `/api/baskets/${basket}`;
  const heading = '00000000-0000-4000-8000-00000000000a';
  const { body: was } = await api.get(path);
  const rows = [{ id: heading, heading: 'Low ones' }, { id: bass, own: { key: 'Bb', bpm: 72, fitting: 'plain' } }]; // prettier-ignore
  const { body: now } = await api.put(`${path}/items`, { rows, was: was.rows });
  assert.deepEqual(now.rows, rows);
  await api.post(`${path}/items`, { phraseIds: [keys] });
  const [first, second] = (await api.get(path)).body.items;
  assert.deepEqual([first.heading, second.heading], ['Low ones', 'Low ones']);
  assert.deepEqual([first.leaves.key.tonic, first.leaves.bpm, second.leaves.bpm], [10, 72, 96]);
  // Somebody who had seen no second phrase renames the heading.
  const renamed = await api.put(`${path}/items`, { rows: [{ id: heading, heading: 'Low' }, rows[1]], was: rows }); // prettier-ignore
  assert.deepEqual(
    renamed.body.rows.map(({ id }: { id: string }) => id),
    [heading, bass, keys],
  );
  assert.equal(renamed.body.rows[0].heading, 'Low');
  assertProblem(
    await api.put(`${path}/items`, { rows: [{ id: heading, heading: 'Deep' }, rows[1]], was: rows }),
    409,
    /changed the rows of/,
  );
  await api.patch(path, { layout: 'headings' });
  const { manifest, files } = await packed(basket);
  const [low] = manifest.phrases;
  assert.deepEqual([low.heading, low.key.tonic, low.bpm], ['Low', 'Bb', 72]);
  assert.match(low.file, /^Low\//);
  const tempo = parseMidi(files[low.file]!)
    .tracks.flat()
    .find(({ type }) => type === 'setTempo');
  assert.equal(
    Math.round((tempo as { microsecondsPerBeat: number }).microsecondsPerBeat),
    Math.round(60e6 / 72),
  );
  // It comes back as it left: held against ours at its own tempo and key, nothing has changed.
  const { body: zip } = await api.get(`${path}/pack`);
  const { body: sent } = await api.sendFile('/api/merge', zip, 'back.zip');
  const { body: back } = await api.get(`/api/merge/${sent.id}`);
  assert.deepEqual(
    back.rows.map(({ fate }: { fate: string }) => fate),
    ['same', 'same'],
  );
  assertProblem(await api.put(`${path}/items`, { rows: [{ id: heading, heading: ' ' }] }), 400, /A heading needs a name/); // prettier-ignore
  assertProblem(await api.put(`${path}/items`, { rows: [{ id: bass, own: { key: 'H' } }] }), 400, /such as Eb/); // prettier-ignore
  assertProblem(await api.put(`${path}/items`, { rows: [{ id: heading }] }), 422, /has to be kept/);
});

async function packed(basket: string) {
  const { body } = await api.get(`/api/baskets/${basket}/pack`);
  // In folders, all of it stands in one of the basket's name.
  const files = Object.fromEntries(
    Object.entries(unzipSync(body as Uint8Array)).map(([name, bytes]) => [
      name.slice(name.indexOf('/') + 1),
      bytes,
    ]),
  );
  const text = (name: string) => new TextDecoder().decode(files[name]);
  return { files, manifest: JSON.parse(text('manifest.json')), notes: text('read-me.txt') };
}

/** Pitch classes of a file, lowest note first, as the reader "midi-file" (npm) reads it. */
function pitchesOf(bytes: Uint8Array): number[] {
  return parseMidi(bytes).tracks.flatMap((track) =>
    track.flatMap((event) => (event.type === 'noteOn' && event.velocity > 0 ? [event.noteNumber] : [])),
  );
}

function keySignaturesOf(bytes: Uint8Array): [key: number, scale: number][] {
  return parseMidi(bytes).tracks.flatMap((track) =>
    track.flatMap((event): [number, number][] =>
      event.type === 'keySignature' ? [[event.key, event.scale]] : [],
    ),
  );
}

/** The pitches of a part in bars 1 to 4 as they were captured. */
async function captured(takeId: string): Promise<number[]> {
  const { body } = await api.get(`/api/takes/${takeId}/parts/p2`);
  const end = 4 * 4 * parseMidi(body).header.ticksPerBeat!;
  return parseMidi(body).tracks.flatMap((track) => {
    let tick = 0;
    return track.flatMap((event) => {
      tick += event.deltaTime;
      return event.type === 'noteOn' && event.velocity > 0 && tick < end - 40 ? [event.noteNumber] : [];
    });
  });
}

const classes = (pitches: number[]) => [...new Set(pitches.map((pitch) => pitch % 12))].sort((a, b) => a - b);

test('a phrase leaves in the key it was captured in, whatever key it is kept in', async () => {
  const takeId = await takeIn(1);
  const [id] = await keep(takeId);
  const row = (await api.get(`/api/phrases/${id}`)).body;
  assert.deepEqual(row.clip.key, { tonic: 9, mode: 'minor' }, 'the house keeps in A minor');
  const { body: alone } = await api.get(`/api/phrases/${id}/file`);
  assert.deepEqual(classes(pitchesOf(alone)), classes(await captured(takeId)));
  // One sharp, minor: E minor (Standard MIDI Files 1.0, FF 59 02 sf mi).
  assert.deepEqual(keySignaturesOf(alone), [[1, 1]]);
  const { files, manifest } = await packed(await basketOf([id!]));
  assert.deepEqual(manifest.phrases[0].key, { tonic: 'E', mode: 'minor' });
  assert.deepEqual(classes(pitchesOf(files[manifest.phrases[0].file]!)), classes(pitchesOf(alone)));
});

test('in a project of the same notes it is not moved; of the same mode it is; and the basket says how', async () => {
  const takeId = await takeIn(2);
  const [id] = await keep(takeId);
  const relative = (await project('Relative', 7, 'major')).body.id;
  const minor = (await project('Other minor', 11, 'minor')).body.id;
  const own = classes(await captured(takeId));
  for (const [projectId, by, key] of [
    [relative, 0, { tonic: 4, mode: 'minor' }],
    [minor, 7, { tonic: 11, mode: 'minor' }],
  ] as const) {
    const basket = await basketOf([id!], projectId);
    const shown = (await api.get(`/api/baskets/${basket}`)).body;
    assert.equal(shown.out.key, 'project');
    const { files, manifest } = await packed(basket);
    const [item] = manifest.phrases;
    assert.deepEqual(
      classes(pitchesOf(files[item.file]!)),
      own.map((pitch) => (pitch + by) % 12).sort((a, b) => a - b),
    );
    assert.deepEqual([shown.items[0].leaves.key, item.bpm], [key, 100]);
    // As captured again, with the same basket.
    await api.patch(`/api/baskets/${basket}`, { out: { ...OUT, key: 'captured' } });
    const back = await packed(basket);
    assert.deepEqual(classes(pitchesOf(back.files[back.manifest.phrases[0].file]!)), own);
    await api.patch(`/api/baskets/${basket}`, { out: { ...OUT, key: 'kept' } });
    assert.deepEqual((await packed(basket)).manifest.phrases[0].key, { tonic: 'A', mode: 'minor' });
  }
});

test('rights and whose it is, said at intake, reach the phrase, the checks, the notes and the manifest', async () => {
  const takeId = await takeIn(3, { rights: 'lent by the theater', contributor: 'The copyist' });
  const [id] = await keep(takeId);
  assert.equal((await api.get(`/api/phrases/${id}`)).body.rights, 'lent by the theater');
  const basket = await basketOf([id!]);
  const said = async () => {
    const { manifest, notes } = await packed(basket);
    const [item] = (await api.get(`/api/baskets/${basket}`)).body.items;
    const [phrase] = manifest.phrases;
    return { rows: [item.rights, item.contributor], manifest: [phrase.rights, phrase.contributor], notes };
  };
  const first = await said();
  assert.deepEqual(first.rows, ['lent by the theater', 'The copyist']);
  assert.deepEqual(first.manifest, first.rows);
  assert.match(first.notes, /rights: lent by the theater/);
  assert.match(first.notes, /The copyist/);

  // Said later of the take, it reaches what was made of it; emptied, it is empty there too.
  await api.patch('/api/takes', { ids: [takeId], rights: 'own work', contributor: 'The composer' });
  assert.deepEqual((await said()).manifest, ['own work', 'The composer']);
  await api.patch('/api/takes', { ids: [takeId], rights: '' });
  const emptied = await said();
  assert.deepEqual(emptied.rows, ['', 'The composer']);
  assert.doesNotMatch(emptied.notes, /rights:/);
});

test('what a person has written on a phrase stays when its take is told otherwise', async () => {
  const takeId = await takeIn(4, { rights: 'lent' });
  const [id] = await keep(takeId);
  const edit = editOf((await api.get(`/api/phrases/${id}`)).body);
  await api.put(`/api/phrases/${id}`, { ...edit, rights: 'asked the composer' });
  await api.patch('/api/takes', { ids: [takeId], rights: 'own work' });
  assert.equal((await api.get(`/api/phrases/${id}`)).body.rights, 'asked the composer');
});

test('the resolution of the recipe is that of the file and of the manifest', async () => {
  const takeId = await takeIn(5);
  const [id] = await keep(takeId);
  const edit = editOf((await api.get(`/api/phrases/${id}`)).body);
  const basket = await basketOf([id!]);
  const ticks = async () => {
    const { body } = await api.get(`/api/phrases/${id}/file`);
    const { files, manifest } = await packed(basket);
    const [phrase] = manifest.phrases;
    return [
      parseMidi(body).header.ticksPerBeat,
      parseMidi(files[phrase.file]!).header.ticksPerBeat,
      phrase.ppq,
    ];
  };
  assert.deepEqual(await ticks(), [480, 480, 480], 'what most programs use (common practice)');
  for (const ppq of [96, 960]) {
    const others = edit.recipe.steps.filter(({ step }: { step: string }) => step !== 'resolution');
    const steps = [...others, { step: 'resolution', ppq }];
    await api.put(`/api/phrases/${id}`, { ...edit, recipe: { ...edit.recipe, steps } });
    assert.deepEqual(await ticks(), [ppq, ppq, ppq]);
  }
});

test('a pickup stands in a marked bar before bar one, and the manifest counts it apart', async () => {
  // A beat of pickup into bar 2, then four bars of quarters: the first bar is a count of silence before it.
  const notes: NoteSpec[] = [
    [1440, 220, 67],
    [1680, 220, 69],
    ...[0, 1, 2, 3].flatMap((bar): NoteSpec[] => [
      [1920 + bar * 1920, 1900, 48 - bar, 110],
      [1920 + bar * 1920, 900, 64 + bar, 100],
      [2880 + bar * 1920, 460, 67 - bar, 80],
      [3360 + bar * 1920, 460, 60 + bar, 70],
    ]),
  ];
  const { body } = await api.upload(midiBytes([trackOf(notes)]), 'pickup.mid');
  const made = await api.post('/api/phrases', {
    takeId: body.takeIds[0],
    parts: ['p1'],
    startBar: 2,
    bars: 4,
    keep: true,
  });
  const [id] = made.body.phraseIds;
  const { clip, bars } = (await api.get(`/api/phrases/${id}`)).body;
  assert.ok(clip.pickup > 0, 'the two notes before bar 2 belong to it');
  const { files, manifest } = await packed(await basketOf([id]));
  const [phrase] = manifest.phrases;
  assert.deepEqual([phrase.bars, phrase.pickupBars, bars], [4, 1, 4]);
  const read = parseMidi(files[phrase.file]!);
  const perBar = 4 * read.header.ticksPerBeat!;
  const markers: [number, string][] = [];
  const onsets: number[] = [];
  for (const track of read.tracks) {
    let tick = 0;
    for (const event of track) {
      tick += event.deltaTime;
      if (event.type === 'marker') markers.push([tick, event.text]);
      if (event.type === 'noteOn' && event.velocity > 0) onsets.push(tick);
    }
  }
  assert.equal(onsets.length, 18);
  assert.ok(onsets[0]! >= perBar / 2 && onsets[0]! < perBar, `the pickup begins at ${onsets[0]}`);
  assert.ok(
    markers.some(([tick, text]) => tick === 0 && /pickup/i.test(text)),
    JSON.stringify(markers),
  );
  assert.ok(
    markers.some(([tick, text]) => tick === perBar && /bar 1/i.test(text)),
    JSON.stringify(markers),
  );
});

test('more phrases than channels: each has its own sound where it sounds, and every note is there', async () => {
  const ids: string[] = [];
  for (let seed = 6; ids.length < 18; seed++) {
    const takeId = await takeIn(seed);
    ids.push(...(await keep(takeId, ['p2'])), ...(await keep(takeId, ['p5'])));
  }
  const { files, manifest } = await packed(await basketOf(ids.slice(0, 18)));
  const combined = parseMidi(files[manifest.combined]!);
  const single = manifest.phrases.map(({ file }: { file: string }) => pitchesOf(files[file]!).length);
  assert.equal(
    pitchesOf(files[manifest.combined]!).length,
    single.reduce((sum: number, count: number) => sum + count, 0),
  );
  // Whenever a note begins, its channel (of its port) plays the program its track asked for.
  for (const track of combined.tracks) {
    const programs = new Set(
      track.flatMap((event) => (event.type === 'programChange' ? [event.programNumber] : [])),
    );
    const sounding = track.filter((event) => event.type === 'noteOn');
    if (sounding.length > 0) assert.equal(programs.size, 1, 'a track has one sound');
  }
  const claims = new Map<string, Set<number>>();
  for (const track of combined.tracks) {
    let tick = 0;
    let port = 0;
    for (const event of track) {
      tick += event.deltaTime;
      if (event.type === 'portPrefix') port = event.port;
      if (event.type === 'programChange') {
        const place = `${port} ${event.channel} ${tick}`;
        claims.set(place, (claims.get(place) ?? new Set()).add(event.programNumber));
      }
    }
  }
  for (const [place, programs] of claims) assert.equal(programs.size, 1, `two sounds at once: ${place}`);
});

test('the markers of the combined file are the sheaves and their chords, and its key signatures are the keys', async () => {
  const takeId = await takeIn(30);
  const ids = await keep(takeId, ['p2', 'p5']);
  const { files, manifest } = await packed(await basketOf(ids));
  const read = parseMidi(files[manifest.combined]!);
  const markers = read.tracks.flatMap((track) =>
    track.flatMap((event) => (event.type === 'marker' ? [event.text] : [])),
  );
  const chords = manifest.phrases[0].changes.map(({ symbol }: { symbol: string }) => symbol);
  assert.deepEqual(markers, [manifest.phrases[0].sheafName, ...chords]);
  assert.match(markers[0]!, /ferry 30, bars 1 to 4/);
  assert.ok(keySignaturesOf(files[manifest.combined]!).some(([key, scale]) => key === 1 && scale === 1));
  const { body: part } = await api.get(`/api/takes/${takeId}/parts/p2`);
  assert.deepEqual(keySignaturesOf(part), [[1, 1]]);
});

test("what leaves is read alike by Debian's midicsv, note by note", { skip: withoutMidicsv }, async () => {
  const [id] = await keep(await takeIn(40));
  const { body } = await api.get(`/api/phrases/${id}/file`);
  const folder = mkdtempSync(join(tmpdir(), 'basket-test-'));
  try {
    const path = join(folder, 'phrase.mid');
    writeFileSync(path, body);
    const theirs = midicsvNotes(path).map((line) => Number(line.split(' ')[3]));
    assert.deepEqual(theirs.sort(), pitchesOf(body).sort());
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});

test('what is not to leave stops the pack, is told among the checks with its phrase, and nothing is kept as having left', async () => {
  const { phraseIds } = (await api.post(`/api/takes/${await takeIn(41)}/make`, {})).body;
  await api.post('/api/phrases/state', { phraseIds, state: 'kept' });
  const [id] = phraseIds as string[];
  const basket = await basketOf([id!]);
  const checks = async () =>
    (await api.get(`/api/baskets/${basket}/checks`)).body.checks as {
      check: string;
      state: string;
      id: string | null;
    }[];
  const rights = async (said: string) => {
    await api.post('/api/phrases/changes', { phraseIds: [id], rights: said });
    return (await checks()).find(({ check }) => check === 'rights')!;
  };
  assert.equal((await rights('own work')).state, 'pass');
  assert.equal((await rights("from somebody's song")).state, 'warn');
  const stops = await rights('not to leave');
  assert.deepEqual([stops.state, stops.id], ['stop', id]);
  assertProblem(await api.get(`/api/baskets/${basket}/pack`), 409, /is not to leave/);
  const packs = async () =>
    (await api.get(`/api/lineage?phrase=${id}`)).body.nodes.filter(
      ({ kind }: { kind: string }) => kind === 'pack',
    ).length;
  assert.equal(await packs(), 0);
  await rights('own work');
  await packed(basket);
  assert.equal(await packs(), 1);
});

test('with previews, plain and side by side: as the basket is set, and a pack that is broken off leaves nothing', async () => {
  const { phraseIds } = (await api.post(`/api/takes/${await takeIn(42)}/make`, {})).body;
  await api.post('/api/phrases/state', { phraseIds, state: 'kept' });
  const basket = await basketOf(phraseIds);
  const set = await api.patch(`/api/baskets/${basket}`, {
    previews: true,
    out: { ...OUT, sounds: 'plain' },
    layout: 'flat',
  });
  assert.deepEqual([set.body.previews, set.body.out.sounds, set.body.layout], [true, 'plain', 'flat']);
  const control = new AbortController();
  const broken = fetch(`${server.address}/api/baskets/${basket}/pack`, { signal: control.signal });
  setTimeout(() => control.abort(), 150);
  await assert.rejects(broken.then((answer) => answer.arrayBuffer()));
  const news = await listenTo(server.address);
  const { body } = await api.get(`/api/baskets/${basket}/pack`);
  const files = unzipSync(body as Uint8Array);
  const names = Object.keys(files);
  const midi = names.filter((name) => name.endsWith('.mid') && !name.includes('_all'));
  assert.equal(midi.length, phraseIds.length);
  for (const name of midi) {
    assert.ok(names.includes(name.replace('.mid', '.wav')), name);
    assert.ok(
      !parseMidi(files[name]!)
        .tracks.flat()
        .some(({ type }) => type === 'programChange'),
    );
  }
  const ofPack = ({ data }: HeardEvent) => data.work === 'pack' && data.id === basket;
  await news.hears('that it is over', (event) => ofPack(event) && event.data.isOver);
  const { of } = news.heard.find((event) => ofPack(event) && !event.data.isOver)!.data;
  assert.ok(of >= midi.length, `${of} previews`);
  await news.end();
});
