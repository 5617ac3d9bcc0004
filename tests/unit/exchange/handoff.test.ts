import assert from 'node:assert/strict';
import { test } from 'node:test';
import { parseMidi } from 'midi-file';
import { readTakes } from '../../../src/core/capture/take.ts';
import { packHandOff, type HandOff, type PhraseOut } from '../../../src/core/exchange/handoff.ts';
import { noteAt } from '../../../src/core/midi/notes.ts';
import { parseKey } from '../../../src/core/music/key.ts';
import { steadyTimeline } from '../../../src/core/music/timeline.ts';
import { HOUSE, houseRecipe } from '../../../src/core/normalize/house.ts';
import type { Role } from '../../../src/core/split/roles.ts';

const bar = HOUSE.ppq * 4;

function phrase(name: string, role: Role, sheaf: string | null, pitch: number, bpm = 96): PhraseOut {
  const drums = role === 'drums';
  return {
    id: name,
    name,
    bars: 2,
    tags: ['river'],
    project: 'The Lantern Ferry',
    sheaf,
    rights: 'own work',
    source: { take: 'Ferry crossing', sha256: 'ab'.repeat(32), part: 'Bass', startBar: 5 },
    fitting: {},
    recipe: houseRecipe(role, { start: 5, count: 2 }, 'minor'),
    clip: {
      timeline: steadyTimeline(HOUSE.ppq, bpm),
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

const handOff: HandOff = {
  title: 'For the percussionist',
  pattern: '{number}_{name}',
  madeAt: '2026-11-25T10:00:00Z',
  phrases: [
    phrase('Low walk', 'bass', 's1', 40),
    phrase('Kit', 'drums', 's1', 36),
    phrase('Low walk', 'keys', null, 60, 120),
  ],
};
const files = packHandOff(handOff);
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
      'notes.txt',
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
    { tick: 0, text: 'Low walk + Kit' },
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
  const note = textOf('notes.txt');
  assert.match(note, /01_Low-walk\.mid\n {2}Low walk \(bass\)\n {2}96 BPM, 4\/4, 2 bars, A minor/);
  assert.match(note, /02_Kit\.mid[^]*no key[^]*channel 10, drum kit/);
});

test('the same hand-off gives the same bytes', () => assert.deepEqual(packHandOff(handOff), files));

test('an empty basket packs its manifest and note, no MIDI', () => {
  assert.deepEqual(
    packHandOff({ ...handOff, phrases: [] }).map((file) => file.name),
    ['manifest.json', 'notes.txt'],
  );
});
