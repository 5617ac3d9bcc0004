import assert from 'node:assert/strict';
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { test } from 'node:test';
import { Ajv } from 'ajv';
import { parseMidi } from 'midi-file';
import { findStreams } from '../../../src/core/capture/streams.ts';
import { readTakes } from '../../../src/core/capture/take.ts';
import type { HandOff, PhraseOut } from '../../../src/core/exchange/handoff.ts';
import { OUT } from '../../../src/core/exchange/out-options.ts';
import { packHandOff } from '../../../src/core/exchange/pack.ts';
import { noteAt } from '../../../src/core/midi/notes.ts';
import { parseKey } from '../../../src/core/music/key.ts';
import { steadyTimeline } from '../../../src/core/music/timeline.ts';
import { houseRecipe } from '../../../src/core/normalize/house.ts';
import { LIBRARY_PPQ } from '../../../src/core/normalize/resolution.ts';
import type { Role } from '../../../src/core/split/roles.ts';

const bar = LIBRARY_PPQ * 4;

function phrase(name: string, role: Role, sheaf: string | null, pitch: number, bpm = 96): PhraseOut {
  const drums = role === 'drums';
  return {
    id: name,
    ...{ isKept: true, saysId: true },
    hash: null,
    name,
    bars: 2,
    tags: ['river'],
    project: 'The Lantern Ferry',
    sheaf: sheaf === null ? null : { id: sheaf, name: 'Verse of the crossing' },
    rights: 'own work',
    contributor: 'Ilse',
    ...{ purpose: null, changes: null, parents: [] },
    ...{ capturedKey: drums ? null : parseKey('Am')!, keptKey: drums ? null : parseKey('Am')! },
    source: { take: 'Ferry crossing', sha256: 'ab'.repeat(32), part: 'Bass', startBar: 5 },
    fitting: {},
    recipe: houseRecipe(role, { start: 5, count: 2 }, 'minor'),
    clip: {
      timeline: steadyTimeline(LIBRARY_PPQ, bpm),
      length: 2 * bar,
      notes: [0, bar].map((tick, origin) => ({
        tick,
        duration: 480,
        pitch,
        velocity: 90,
        release: 64,
        origin,
      })),
      controls: [{ tick: 0, kind: 0xb0, data1: 64, data2: 0 }],
      role,
      key: drums ? null : parseKey('Am')!,
      locked: [],
      pickup: 0,
      channel: drums ? 9 : 0,
      program: drums ? 0 : 33,
    },
  };
}

const sha256 = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');
const pack = (given: HandOff) => packHandOff(given, sha256);

const handOff: HandOff = {
  title: 'For the percussionist',
  pattern: '{number}_{name}',
  madeAt: '2026-11-25T10:00:00Z',
  ...{ layout: 'flat', out: OUT, card: null, recipient: null, library: null },
  phrases: [
    phrase('Low walk', 'bass', 's1', 40),
    phrase('Kit', 'drums', 's1', 36),
    phrase('Low walk', 'keys', null, 60, 120),
  ],
};
const files = pack(handOff);
const textOf = (name: string) => new TextDecoder().decode(files.find((file) => file.name === name)!.bytes);

test('a file for each phrase, one of all, the manifest and the note', () => {
  assert.deepEqual(
    files.map((file) => file.name),
    [
      '01_Low-walk.mid',
      '02_Kit.mid',
      '03_Low-walk.mid',
      'For-the-percussionist_all.mid',
      'manifest.json',
      'read-me.txt',
    ],
  );
});

test('each phrase stands at 480 ticks with its tempo, meter and key inside', () => {
  const midi = parseMidi(files[0]!.bytes);
  assert.equal(midi.header.ticksPerBeat, 480);
  const [conductor] = midi.tracks;
  assert.ok(conductor!.some((event) => event.type === 'setTempo' && event.microsecondsPerBeat === 625_000));
  assert.ok(conductor!.some((event) => event.type === 'timeSignature' && event.numerator === 4));
  assert.ok(
    conductor!.some((event) => event.type === 'keySignature' && event.key === 0 && event.scale === 1),
  );
  assert.ok(midi.tracks[1]!.some((event) => event.type === 'programChange' && event.programNumber === 33));
});

test('in the combined file a sheaf sounds at once and the rest follows from a bar line, at its own tempo', () => {
  const take = readTakes(files[3]!.bytes)[0]!;
  const notes = [...Array(take.notes.length).keys()].map((i) => noteAt(take.notes, i));
  assert.deepEqual(
    notes.map((note) => [note.tick, note.pitch, note.channel]),
    [
      [0, 40, 0],
      [0, 36, 9],
      [1920, 40, 0],
      [1920, 36, 9],
      [3840, 60, 1],
      [5760, 60, 1],
    ],
  );
  assert.deepEqual(take.timing.markers, [
    { tick: 0, text: 'Verse of the crossing' },
    { tick: 3840, text: 'Low walk' },
  ]);
  assert.deepEqual(
    take.timing.tempos.map(({ tick, microseconds }) => [tick, microseconds]),
    [
      [0, 625_000],
      [3840, 500_000],
    ],
  );
});

test('the manifest names every file with what is in it', () => {
  const manifest = JSON.parse(textOf('manifest.json'));
  assert.equal(manifest.format, 'hollow-basket-hand-off');
  assert.equal(manifest.combined, 'For-the-percussionist_all.mid');
  assert.equal(manifest.phrases.length, 3);
  const [first] = manifest.phrases;
  assert.deepEqual(first.key, { tonic: 'A', mode: 'minor' });
  assert.deepEqual(
    [first.file, first.bpm, first.bars, first.notes, first.channel, first.program],
    ['01_Low-walk.mid', 96, 2, 2, 1, 34],
  );
  assert.deepEqual(first.source.startBar, 5);
});

test('the note says tempo, key and meter in words', () => {
  const note = textOf('read-me.txt');
  assert.match(note, /01_Low-walk\.mid\n {2}Low walk \(bass\)\n {2}96 BPM, 4\/4, 2 bars, A minor/);
  assert.match(note, /02_Kit\.mid[^]*no key[^]*channel 10, drum kit/);
});

test('the same hand-off gives the same bytes', () => assert.deepEqual(pack(handOff), files));

test('an empty basket packs its manifest and note, no MIDI', () => {
  assert.deepEqual(
    pack({ ...handOff, phrases: [] }).map((file) => file.name),
    ['manifest.json', 'read-me.txt'],
  );
});

test('more parts than channels: a channel is used again with its own program, and a sheaf goes on to another port', () => {
  const many = Array.from({ length: 20 }, (_, i) => phrase(`Line ${i}`, 'keys', null, 40 + i));
  many.forEach((one, i) => (one.clip.program = i));
  const inTurn = parseMidi(pack({ ...handOff, phrases: many }).at(-3)!.bytes);
  const programs = inTurn.tracks.slice(1).map((track) => {
    let tick = 0;
    for (const event of track) {
      tick += event.deltaTime;
      if (event.type === 'programChange') return [tick, event.channel, event.programNumber];
    }
    return [];
  });
  // Each program is set where its phrase begins: 20 phrases of two bars, one after another.
  assert.deepEqual(
    programs.map(([tick, , program]) => [tick, program]),
    many.map((_, i) => [i * 3840, i]),
  );
  const sheaf = Array.from({ length: 20 }, (_, i) => phrase(`Line ${i}`, 'keys', 's2', 40 + i));
  const together = readTakes(pack({ ...handOff, phrases: sheaf }).at(-3)!.bytes)[0]!;
  const places = findStreams(together).map(({ port, channel }) => `${port} ${channel}`);
  assert.equal(new Set(places).size, 20, 'no two instruments that sound at once share port and channel');
});

test('keys stand in the combined file where they begin', () => {
  const take = readTakes(files[3]!.bytes)[0]!;
  assert.deepEqual(
    take.timing.keys.map(({ tick, tonic, mode }) => [tick, tonic, mode]),
    [
      [0, 9, 'minor'],
      [3840, 9, 'minor'],
    ],
  );
});

test('a pickup leaves in a marked bar before bar one', () => {
  const lead = phrase('With a pickup', 'lead', null, 67);
  const [file] = pack({ ...handOff, phrases: [{ ...lead, clip: { ...lead.clip, pickup: bar } }] });
  assert.deepEqual(readTakes(file!.bytes)[0]!.timing.markers, [
    { tick: 0, text: 'pickup' },
    { tick: 1920, text: 'bar 1' },
  ]);
});

test('what leaves has the resolution that the recipe asks for, and the manifest says it', () => {
  const asked = phrase('Fine', 'bass', null, 40);
  asked.recipe = { ...asked.recipe, steps: [...asked.recipe.steps, { step: 'resolution', ppq: 240 }] };
  const packed = pack({ ...handOff, phrases: [asked] });
  assert.equal(parseMidi(packed[0]!.bytes).header.ticksPerBeat, 240);
  const manifest = JSON.parse(new TextDecoder().decode(packed.at(-2)!.bytes));
  assert.equal(manifest.phrases[0].ppq, 240);
});

test('what a manifest says is as its published schema has it (JSON Schema draft 7, checked by ajv)', () => {
  const schema = JSON.parse(readFileSync('docs/formats/manifest.schema.json', 'utf8'));
  const isManifest = new Ajv({ strict: true, allowUnionTypes: true }).compile(schema);
  const ways: Partial<HandOff>[] = [
    {},
    { layout: 'folders', recipient: 'The percussionist', out: { ...OUT, kit: 'files', sounds: 'plain' } },
    { out: { ...OUT, as: 'one', format: 0, ppq: 96 } },
    { phrases: [] },
  ];
  for (const way of ways) {
    const [manifest] = pack({ ...handOff, ...way }).filter(({ name }) => name === 'manifest.json');
    assert.ok(
      isManifest(JSON.parse(new TextDecoder().decode(manifest!.bytes))),
      JSON.stringify(isManifest.errors),
    );
  }
  assert.ok(!isManifest({ format: 'hollow-basket-hand-off', version: 3 }));
});
