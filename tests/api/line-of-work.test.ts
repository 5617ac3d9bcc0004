import assert from 'node:assert/strict';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { after, before, test } from 'node:test';
import { unzipSync } from 'fflate';
import { parseMidi } from 'midi-file';
import { readTakes } from '../../src/core/capture/take.ts';
import { readMidiFile } from '../../src/core/midi/read.ts';
import type { MidiEvent } from '../../src/core/midi/smf.ts';
import { OUT } from '../../src/core/exchange/out-options.ts';
import { clipToMidi } from '../../src/core/exchange/midi-out.ts';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import { keptResult } from '../../src/core/normalize/recipe.ts';
import { asCaptured } from '../../src/core/reuse/in-project.ts';
import { LEAVING_PPQ, setResolution } from '../../src/core/normalize/resolution.ts';
import { clipFromNotes } from '../../src/core/phrase/clip.ts';
import type { SingleMove } from '../../src/core/split/moves.ts';
import { acceptAll } from '../../src/core/split/proposals.ts';
import { splitTake } from '../../src/core/split/split.ts';
import { band, bandFile } from '../../src/core/standins/band.ts';
import type { Mishap } from '../../src/core/standins/mishaps.ts';
import { performanceFile } from '../../src/core/standins/performance.ts';
import { strummer } from '../../src/core/standins/strummer.ts';
import { slowly } from '../support/slow.ts';
import { apiClient, assertProblem, type Api } from '../support/api.ts';
import { midiBytes, trackOf } from '../support/midi.ts';
import { midicsvNotes, withoutMidicsv } from '../support/midicsv.ts';
import { openmsxFiles, withoutOpenmsx } from '../support/openmsx.ts';
import { startTestServer, type TestServer } from '../support/server.ts';

let server: TestServer;
let api: Api;
before(async () => {
  server = await startTestServer();
  api = apiClient(server.address);
});
after(() => server.remove());

const song = (seed: number) =>
  writeMidiFile(bandFile({ chart: 'Dm | Gm | A7 | Dm', style: 'river', bpm: 96, seed, title: 'Ferry' }));

async function takeIn(seed: number): Promise<string> {
  const { status, body } = await api.upload(song(seed), `ferry_${seed}.mid`, { source: 'Band stand-in' });
  assert.equal(status, 201);
  return body.takeIds[0];
}

test('a file becomes a take with its facts; the same bytes again are the same take', async () => {
  const id = await takeIn(1);
  const again = await api.upload(song(1), 'another name.mid');
  assert.deepEqual([again.status, again.body], [200, { isNew: false, takeIds: [id] }]);
  const { body } = await api.get(`/api/takes/${id}`);
  assert.equal(body.name, 'ferry 1');
  assert.equal(body.source, 'Band stand-in');
  assert.equal(body.facts.bars, 6);
  assert.equal(body.keys[0].mode, 'minor');
  const original = await api.get(`/api/takes/${id}/file`);
  assert.deepEqual(original.body, song(1));
  assert.deepEqual(new Uint8Array(readFileSync(`${server.dataDirectory}/originals/${body.sha256}`)), song(1));
});

test('bad files are refused with their name and the reason, and leave nothing behind', async () => {
  const before = (await api.get('/api/status')).body.capture;
  assertProblem(
    await api.upload(new TextEncoder().encode('a letter'), 'letter.mid'),
    422,
    /This is not a Standard MIDI File/,
  );
  assertProblem(await api.upload(new Uint8Array(), 'empty.mid'), 422, /The file is empty/);
  assertProblem(await api.upload(midiBytes([trackOf([])]), 'silent.mid'), 422, /holds no notes/);
  assertProblem(await api.upload(new Uint8Array(17 * 1024 * 1024), 'huge.mid'), 413, /larger than 16 MB/);
  assertProblem(
    await api.send('POST', '/api/takes', { headers: { 'content-type': 'application/json' }, body: '{}' }),
    415,
    /multipart/,
  );
  assert.equal((await api.get('/api/status')).body.capture, before);
});

test('a path in a file name is only a name', async () => {
  const { body } = await api.upload(song(3), '../../etc/<b>passwd</b>.mid');
  const take = (await api.get(`/api/takes/${body.takeIds[0]}`)).body;
  assert.ok(!take.name.includes('/') && !take.name.includes('..'), take.name);
});

test('moves on a split are kept, taken back and done again; refused ones change nothing', async () => {
  const id = await takeIn(4);
  const parts = async () => {
    const { takes } = (await api.get('/api/takes?limit=1000')).body;
    return takes.find((take: { id: string }) => take.id === id).parts as {
      name: string;
      role: string;
      notes: number;
    }[];
  };
  const before = await parts();
  await api.post(`/api/takes/${id}/moves`, { move: { move: 'rename', part: 'p2', name: 'Low line' } });
  await api.post(`/api/takes/${id}/moves`, { move: { move: 'merge', parts: ['p2', 'p3', 'p4'] } });
  const moved = await api.post(`/api/takes/${id}/moves`, {
    move: { move: 'setAside', part: 'p1', reason: 'not wanted' },
  });
  assert.equal(moved.body.movesDone, 3);
  const after = await parts();
  assert.deepEqual(
    after.map((part) => part.name),
    ['Low line', 'Keys', 'Guitar', 'Pad'],
  );
  assert.equal(after[0]!.notes, before[1]!.notes + before[2]!.notes + before[3]!.notes);
  for (let i = 0; i < 3; i++) await api.send('POST', `/api/takes/${id}/undo`);
  assert.deepEqual(await parts(), before);
  assertProblem(await api.send('POST', `/api/takes/${id}/undo`), 409, /nothing to take back/);
  for (let i = 0; i < 3; i++) await api.send('POST', `/api/takes/${id}/redo`);
  assert.deepEqual(await parts(), after);
  assertProblem(
    await api.post(`/api/takes/${id}/moves`, { move: { move: 'rename', part: 'p99', name: 'x' } }),
    422,
    /no part p99/,
  );
  assertProblem(
    await api.post(`/api/takes/${id}/moves`, { move: { move: 'explode' } }),
    400,
    /A move is one of/,
  );
  assertProblem(
    await api.post(`/api/takes/${id}/moves`, { move: { move: 'rename', part: 'p1', name: ' ' } }),
    400,
    /needs a name/,
  );
  assert.deepEqual(await parts(), after);
});

test('bars of several parts become a sheaf of drafts; kept, they are found, and only then go into baskets', async () => {
  const takeId = await takeIn(5);
  const made = await api.post('/api/phrases', { takeId, parts: ['p1', 'p2'], startBar: 1, bars: 4 });
  assert.equal(made.status, 201);
  assert.equal(made.body.phraseIds.length, 2);
  const [drums, bass] = made.body.phraseIds as [string, string];
  const draft = (await api.get(`/api/phrases/${bass}`)).body;
  assert.equal(draft.state, 'draft');
  assert.equal(draft.siblings[0].id, drums);
  assert.equal(draft.clip.timeline.ppq, 960);

  const { body: basket } = await api.post('/api/baskets', { name: 'For the copyist' });
  assertProblem(
    await api.post(`/api/baskets/${basket.id}/items`, { phraseIds: [bass] }),
    422,
    /kept in the library before/,
  );

  const { role, takeKey, recipe } = draft;
  const change = {
    name: 'Low walk',
    role,
    takeKey,
    recipe,
    tags: ['River', ' walking '],
    projectId: null,
    rights: '',
    state: 'kept',
  };
  const saved = await api.put(`/api/phrases/${bass}`, change);
  assert.deepEqual(saved.body.tags, ['river', 'walking']);
  await api.post('/api/phrases/state', { phraseIds: [drums], state: 'kept' });

  const found = (await api.get('/api/phrases?text=low+river&role=bass&tag=walking&bars=4&meter=4/4&tempo=90'))
    .body;
  assert.deepEqual(
    found.phrases.map((phrase: { id: string }) => phrase.id),
    [bass],
  );
  assert.deepEqual((await api.get('/api/phrases?text=%25')).body.phrases, []);
  const { facets } = (await api.get('/api/phrases/facets?text=low+walk')).body;
  assert.deepEqual(facets.roles, [{ value: 'bass', count: 1 }]);
  assert.deepEqual(facets.tags.map((tag: { value: string }) => tag.value).sort(), ['river', 'walking']);

  assert.deepEqual((await api.post(`/api/baskets/${basket.id}/items`, { phraseIds: [bass, drums] })).body, {
    added: 2,
  });
  assert.deepEqual((await api.post(`/api/baskets/${basket.id}/items`, { phraseIds: [bass] })).body, {
    added: 0,
  });
  const ordered = await api.put(`/api/baskets/${basket.id}/items`, {
    rows: [{ id: drums }, { id: bass }],
  });
  assert.deepEqual(
    ordered.body.items.map((item: { id: string }) => item.id),
    [drums, bass],
  );
});

test('a recipe that is none, or leaves nothing, is refused and the phrase stays as it was', async () => {
  const takeId = await takeIn(6);
  const { body } = await api.post('/api/phrases', { takeId, parts: ['p2'], startBar: 1, bars: 2 });
  const path = `/api/phrases/${body.phraseIds[0]}`;
  const before = (await api.get(path)).body;
  const { name, role, takeKey, tags, projectId, rights, state, recipe } = before;
  const change = { name, role, takeKey, tags, projectId, rights, state };
  assertProblem(
    await api.put(path, { ...change, recipe: { version: 1, steps: [{ step: 'sing' }] } }),
    422,
    /"sing" is not a step/,
  );
  assertProblem(
    await api.put(path, {
      ...change,
      recipe: { version: 1, steps: [{ step: 'bars', start: 90, count: 1 }] },
    }),
    422,
    /leaves no notes/,
  );
  assertProblem(await api.put(path, { ...change, recipe, name: '' }), 400, /A phrase needs a name/);
  assertProblem(
    await api.post('/api/phrases', { takeId, parts: ['p2'], startBar: 40, bars: 2 }),
    422,
    /ends with bar 6/,
  );
  assertProblem(
    await api.post('/api/phrases', { takeId, parts: ['p4'], startBar: 1, bars: 2 }),
    422,
    /has no notes in bars 1 to 2/,
  );
  assert.deepEqual((await api.get(path)).body, before);
  const id = body.phraseIds[0];
  const drafts = async () =>
    (await api.get('/api/phrases/drafts')).body.drafts.map((draft: { id: string }) => draft.id);
  await api.post('/api/phrases/state', { phraseIds: [id], state: 'discarded' });
  assert.ok(!(await drafts()).includes(id));
  await api.post('/api/phrases/state', { phraseIds: [id], state: 'draft' });
  assert.ok((await drafts()).includes(id));
});

test('projects: made, changed, and refused where the chords or the name cannot be', async () => {
  const project = {
    name: 'The Lantern Ferry',
    keyTonic: 2,
    keyMode: 'minor',
    bpm: 96,
    meterNumerator: 4,
    meterDenominator: 4,
    chords: 'Dm | A7',
  };
  const made = await api.post('/api/projects', project);
  assert.equal(made.status, 201);
  assertProblem(
    await api.post('/api/projects', project),
    409,
    /already a project called "The Lantern Ferry"/,
  );
  assertProblem(
    await api.post('/api/projects', { ...project, name: 'Other', chords: 'Dm | Xq' }),
    422,
    /Bar 2: "Xq"/,
  );
  assertProblem(
    await api.post('/api/projects', { ...project, name: 'Other', bpm: 0 }),
    400,
    /at least 20 BPM/,
  );
  const changed = await api.put(`/api/projects/${made.body.id}`, { ...project, bpm: 100 });
  assert.equal(changed.body.bpm, 100);
});

test('requests that make no sense get a status and a sentence', async () => {
  assertProblem(await api.get('/api/takes/nonsense'), 404, /nothing at this address/);
  assertProblem(await api.get('/api/takes/00000000-0000-4000-8000-000000000000'), 404, /no such take/);
  assertProblem(
    await api.send('POST', '/api/baskets', { headers: { 'content-type': 'application/json' }, body: '{' }),
    400,
    /not valid JSON/,
  );
  assertProblem(await api.get('/api/phrases?bars=many'), 400, /whole number/);
});

test('a write from a foreign page is refused', async () => {
  const form = new FormData();
  form.set('file', new File([song(7) as Uint8Array<ArrayBuffer>], 'x.mid'));
  const answer = await fetch(`${server.address}/api/takes`, {
    method: 'POST',
    body: form,
    headers: { origin: 'http://evil.example' },
  });
  assert.equal(answer.status, 403);
});

test('what is packed is what the recipe made, note by note, under the names shown', async () => {
  const takeId = await takeIn(8);
  const { body: made } = await api.post('/api/phrases', {
    takeId,
    parts: ['p2', 'p5'],
    startBar: 1,
    bars: 4,
  });
  await api.post('/api/phrases/state', { phraseIds: made.phraseIds, state: 'kept' });
  const { body: basket } = await api.post('/api/baskets', { name: 'Hand off: "all" / now' });
  await api.post(`/api/baskets/${basket.id}/items`, { phraseIds: made.phraseIds });
  const shown = (
    await api.patch(`/api/baskets/${basket.id}`, { pattern: '{number} {role} {key}', layout: 'flat' })
  ).body;
  const pack = await api.get(`/api/baskets/${basket.id}/pack`);
  assert.equal(pack.type, 'application/zip');
  const files = unzipSync(pack.body);
  assert.deepEqual(Object.keys(files), [
    ...shown.items.map((item: { file: string }) => item.file),
    'Hand-off-all-now_all.mid',
    'manifest.json',
    'read-me.txt',
  ]);
  const take = readTakes(song(8))[0]!;
  for (const [i, id] of made.phraseIds.entries()) {
    const phrase = (await api.get(`/api/phrases/${id}`)).body;
    const source = clipFromNotes(take, phrase.origins, { ...phrase, key: phrase.takeKey });
    const expected = setResolution(
      { ...asCaptured(keptResult(source, phrase.recipe).clip, phrase.takeKey), channel: 0 },
      { ppq: LEAVING_PPQ },
    ).clip;
    const [left, wanted] = [files[shown.items[i].file]!, writeMidiFile(clipToMidi(expected, phrase.name))];
    assert.deepEqual(readTakes(left)[0]!.notes, readTakes(wanted)[0]!.notes);
    assert.deepEqual(playedIn(left), playedIn(wanted));
  }
});

/** All events of a file but its texts: what it is called, its chords, whose phrase it is. */
function playedIn(bytes: Uint8Array) {
  const isText = ({ status, data1 }: MidiEvent) => status === 0xff && data1 >= 1 && data1 <= 7;
  return readMidiFile(bytes).file.tracks.map((events) => events.filter((event) => !isText(event)));
}

/** A take of the band with mishaps, and its split as the core sees it. */
async function mishapTake(seed: number, mishaps: Mishap[]) {
  const performance = band.play({ ...band.defaults, seed }, mishaps);
  const bytes = writeMidiFile(performanceFile(performance));
  const { body } = await api.upload(bytes, `mishaps_${seed}.mid`);
  const take = readTakes(bytes)[0]!;
  return { id: body.takeIds[0] as string, take, split: splitTake(take) };
}

test('all proposals accepted are one move: counted before and after, exported as it sounds, taken back as one', async () => {
  const { id, take, split } = await mishapTake(81, ['pieces', 'drumChannel', 'doubled', 'click']);
  assert.equal((await api.get(`/api/takes/${id}`)).body.proposals, 4);
  const moved = await api.post(`/api/takes/${id}/moves`, { move: acceptAll(take, split) });
  assert.deepEqual([moved.status, moved.body.movesDone, moved.body.proposals], [200, 1, 0]);

  const zip = await api.get(`/api/takes/${id}/parts?as=zip`);
  assert.equal(zip.type, 'application/zip');
  const files = unzipSync(zip.body);
  assert.deepEqual(Object.keys(files).sort(), [
    'Bass.mid',
    'Guitar.mid',
    'Keys.mid',
    'Kit.mid',
    'Pad.mid',
    'set-aside.mid',
  ]);
  const notes = Object.values(files).map((bytes) => readTakes(bytes)[0]!.notes.length);
  assert.equal(
    notes.reduce((sum, count) => sum + count, 0),
    take.notes.length,
  );
  assert.deepEqual([...new Set(readTakes(files['Kit.mid']!)[0]!.notes.channel)], [9]);
  const one = readTakes((await api.get(`/api/takes/${id}/parts?as=file`)).body)[0]!;
  assert.equal(one.notes.length, take.notes.length - readTakes(files['set-aside.mid']!)[0]!.notes.length);
  assert.deepEqual(readTakes((await api.get(`/api/takes/${id}/parts/p1`)).body)[0]!.notes.channel[0], 9);
  assertProblem(await api.get(`/api/takes/${id}/parts?as=tape`), 400, /zip or as file/);

  const back = await api.post(`/api/takes/${id}/history`, { done: 0 });
  assert.deepEqual([back.body.movesDone, back.body.moves.length, back.body.proposals], [0, 1, 4]);
  assert.equal((await api.post(`/api/takes/${id}/history`, { done: 1 })).body.movesDone, 1);
  assertProblem(await api.post(`/api/takes/${id}/history`, { done: 2 }), 409, /not that long/);
});

const QUANTIZE = { step: 'quantize', grid: '1/16', strength: 1, swing: 'keep' };

/** A move of every kind, in an order in which each can be done on a take of several parts. */
const GOOD: { [Kind in SingleMove['move']]: Extract<SingleMove, { move: Kind }> } = {
  setAside: { move: 'setAside', part: 'p2', reason: 'not wanted', fromTick: 0, toTick: 960 },
  bringBack: { move: 'bringBack', entry: 0 },
  divide: { move: 'divide', part: 'p1', how: 'hand', into: [{ name: 'One', notes: '8', role: 'drums' }] },
  give: { move: 'give', notes: '8', part: 'p2' },
  lock: { move: 'lock', part: 'p2', notes: '8', on: true },
  merge: { move: 'merge', parts: ['p2', 'p3'] },
  rename: { move: 'rename', part: 'p2', name: 'Low' },
  role: { move: 'role', part: 'p2', role: 'bass' },
  sound: { move: 'sound', part: 'p2', channel: 3, program: 40 },
  pitchMap: { move: 'pitchMap', part: 'p1', pairs: [[36, 38]] },
  weigh: { move: 'weigh', part: 'p2', weight: 0.5 },
  refuse: { move: 'refuse', proposal: 'kit p1' },
  nameTake: { move: 'nameTake', name: 'Another name' },
  chooseKey: { move: 'chooseKey', key: { tonic: 5, mode: 'lydian' } },
  retime: { move: 'retime', how: 'half time', anchors: [[0, 0], [3840, 1920]] }, // prettier-ignore
  meter: { move: 'meter', fromTick: 0, numerator: 3, denominator: 4 },
  end: { move: 'end', tick: 100_000 },
  asCaptured: { move: 'asCaptured' },
  repitch: { move: 'repitch', notes: '8', by: 2 },
  chord: { move: 'chord', fromTick: 0, toTick: 960, symbol: 'Bb' },
  sections: { move: 'sections', sections: [{ startBar: 1, bars: 4, label: 'A', purpose: 'verse' }] },
  recipe: { move: 'recipe', role: 'bass', steps: [QUANTIZE] },
  hearAnew: { move: 'hearAnew', method: 1 },
};

/** The same with one thing wrong. */
const BAD: { [Kind in SingleMove['move']]: Record<string, unknown> } = {
  setAside: { reason: '' },
  bringBack: { entry: -1 },
  divide: { into: [] },
  give: { notes: 'xyz' },
  lock: { on: 'yes' },
  merge: { parts: ['p2'] },
  rename: { name: ' ' },
  role: { role: 'king' },
  sound: { channel: 16 },
  pitchMap: { pairs: [[36]] },
  weigh: { weight: 2 },
  refuse: { proposal: 7 },
  nameTake: { name: '' },
  chooseKey: { key: { tonic: 12, mode: 'major' } },
  retime: { anchors: [[10, 0], [5, 5]] }, // prettier-ignore
  meter: { denominator: 3 },
  end: { tick: 'never' },
  asCaptured: { more: 1 },
  repitch: { by: 25 },
  chord: { symbol: 'H#q' },
  sections: { sections: [{ startBar: 0, bars: 4, label: 'A', purpose: 'verse' }] },
  recipe: { steps: [{ step: 'dance' }] },
  hearAnew: { method: 0 },
};

test('every kind of move can be done and is checked at the door; what is wrong in one of several changes nothing', async () => {
  const { id } = await mishapTake(82, []);
  const move = (value: unknown) => api.post(`/api/takes/${id}/moves`, { move: value });
  const good = Object.values(GOOD);
  for (const value of good) {
    const answer = await move(value);
    assert.equal(answer.status, 200, `${value.move}: ${JSON.stringify(answer.body.detail)}`);
    assertProblem(await move({ ...value, ...BAD[value.move] }), 400, /./);
  }
  const changed = (await api.get(`/api/takes/${id}`)).body;
  assert.deepEqual(
    [changed.movesDone, changed.name, changed.chosenKey.mode],
    [good.length, 'Another name', 'lydian'],
  );
  assert.equal(
    (await move({ move: 'together', title: 'two', moves: [GOOD.rename, GOOD.sound] })).status,
    200,
  );
  const bad: [unknown, number][] = [
    [{ ...GOOD.lock, part: 'p99' }, 422],
    [{ move: 'together', title: 'x', moves: [{ move: 'together', title: 'y', moves: [] }] }, 400],
    [{ move: 'together', title: 'x', moves: [GOOD.sound, { ...GOOD.give, part: 'p99' }] }, 422],
  ];
  for (const [value, status] of bad) assertProblem(await move(value), status, /./);
  assert.equal((await api.get(`/api/takes/${id}`)).body.movesDone, good.length + 1);
  // All is taken back at once, and the take is as it came in.
  const back = (await api.post(`/api/takes/${id}/history`, { done: 0 })).body;
  assert.deepEqual([back.name === changed.name, back.chosenKey], [false, null]);
});

test('locked notes and a drum map go with the phrase that is made', async () => {
  const strum = writeMidiFile(
    performanceFile(strummer.play({ ...strummer.defaults, chord: 'Em', seed: 83 })),
  );
  const { body } = await api.upload(strum, 'strum_83.mid');
  const id = body.takeIds[0];
  const take = readTakes(strum)[0]!;
  await api.post(`/api/takes/${id}/moves`, { move: acceptAll(take, splitTake(take)) });
  const made = await api.post('/api/phrases', { takeId: id, parts: ['p1'], startBar: 1, bars: 4 });
  const phrase = (await api.get(`/api/phrases/${made.body.phraseIds[0]}`)).body;
  assert.ok(phrase.locked.length > 10);
  const locked = new Set(phrase.locked);
  for (const note of phrase.clip.notes as { origin: number; pitch: number }[]) {
    const moved = note.pitch - take.notes.pitch[note.origin]!;
    assert.equal(
      moved,
      locked.has(note.origin) ? 0 : 5,
      'E minor is kept in A minor, its key switches where they were',
    );
  }
});

test('a take of one clean part is kept at once and says what was done; another is refused with the reason', async () => {
  const { body } = await api.upload(
    midiBytes([
      trackOf([
        [0, 480, 60],
        [480, 480, 64],
        [960, 960, 67],
      ]),
    ]),
    'clean.mid',
  );
  const kept = await api.post(`/api/takes/${body.takeIds[0]}/keep`, { projectId: null });
  assert.equal(kept.status, 200, JSON.stringify(kept.body));
  assert.match(kept.body.done[0], /^Bars: /);
  assert.equal((await api.get(`/api/phrases/${kept.body.phraseId}`)).body.state, 'kept');
  assertProblem(await api.post(`/api/takes/${await takeIn(84)}/keep`, { projectId: null }), 409, /7 parts/);
});

test('all is there again after the server was ended and started', async () => {
  const before = (await api.get('/api/status')).body;
  await server.stop();
  server = await startTestServer({ dataDirectory: server.dataDirectory });
  api = apiClient(server.address);
  assert.deepEqual((await api.get('/api/status')).body, before);
});

test(
  '31 real files: in, split, four bars of a part, kept, packed, and note by note what midicsv reads',
  slowly(withoutOpenmsx || withoutMidicsv),
  async () => {
    const { body: basket } = await api.post('/api/baskets', { name: 'Real files' });
    // Plain: what suits a sound would move the notes.
    await api.patch(`/api/baskets/${basket.id}`, {
      pattern: '{number}',
      layout: 'flat',
      out: { ...OUT, fitting: 'plain', markers: false },
    });
    const expected: string[][] = [];
    for (const path of openmsxFiles) {
      const { status, body } = await api.upload(readFileSync(path), basename(path));
      assert.equal(status, 201, basename(path));
      const takeId = body.takeIds[0];
      const { takes } = (await api.get('/api/takes?limit=1000')).body;
      const { parts, facts } = takes.find((take: { id: string }) => take.id === takeId);
      assert.equal(
        parts.reduce((sum: number, part: { notes: number }) => sum + part.notes, 0),
        facts.notes,
      );
      const made = await firstFourBars(takeId, facts.bars);
      await api.post('/api/phrases/state', { phraseIds: [made], state: 'kept' });
      const phrase = (await api.get(`/api/phrases/${made}`)).body;
      expected.push(
        // It leaves in the key it was captured in, wherever it is kept.
        setResolution(asCaptured(phrase.clip, phrase.takeKey), { ppq: LEAVING_PPQ })
          .clip.notes.map((n) => [n.tick, n.duration, phrase.clip.channel, n.pitch, n.velocity].join(' '))
          .sort(),
      );
      await api.post(`/api/baskets/${basket.id}/items`, { phraseIds: [made] });
    }
    const files = unzipSync((await api.get(`/api/baskets/${basket.id}/pack`)).body);
    const folder = mkdtempSync(join(tmpdir(), 'basket-test-'));
    for (const [i, notes] of expected.entries()) {
      const file = join(folder, 'phrase.mid');
      const bytes = files[`${String(i + 1).padStart(2, '0')}.mid`]!;
      writeFileSync(file, bytes);
      assert.deepEqual(midicsvNotes(file), notes, basename(openmsxFiles[i]!));
      // And back: what was handed off is taken in as it is.
      const back = await api.upload(bytes, `${i}.mid`);
      assert.ok(back.status === 201 || back.status === 200);
      assert.equal((await api.get(`/api/takes/${back.body.takeIds[0]}`)).body.facts.notes, notes.length);
    }
    rmSync(folder, { recursive: true });
    const all = parseMidi(files['Real-files_all.mid']!).tracks.flat();
    assert.equal(
      all.filter((event) => event.type === 'noteOn').length,
      expected.reduce((sum, notes) => sum + notes.length, 0),
    );
  },
);

/** A phrase of the first four bars in which the take's first part plays. */
async function firstFourBars(takeId: string, bars: number): Promise<string> {
  for (let startBar = 1; startBar <= bars; startBar += 4) {
    const { status, body } = await api.post('/api/phrases', { takeId, parts: ['p1'], startBar, bars: 4 });
    if (status === 201) return body.phraseIds[0];
  }
  throw new Error('The part plays nowhere.');
}
