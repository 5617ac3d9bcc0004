import assert from 'node:assert/strict';
import { test } from 'node:test';
import { takeFacts } from '../../../src/core/capture/facts.ts';
import { readTakes } from '../../../src/core/capture/take.ts';
import { noteAt } from '../../../src/core/midi/notes.ts';
import { readMidiFile } from '../../../src/core/midi/read.ts';
import { writeMidiFile } from '../../../src/core/midi/write.ts';
import { bytesOf } from '../../support/midi.ts';

/** The worked example of RP-001, "Standard MIDI Files 1.0": four notes, 4/4, 120 BPM, 96 ticks, format 0. */
const FORMAT_0 = bytesOf(`
  4D 54 68 64 00 00 00 06 00 00 00 01 00 60
  4D 54 72 6B 00 00 00 3B
  00 FF 58 04 04 02 18 08
  00 FF 51 03 07 A1 20
  00 C0 05
  00 C1 2E
  00 C2 46
  00 92 30 60
  00 3C 60
  60 91 43 40
  60 90 4C 20
  81 40 82 30 40
  00 3C 40
  00 81 43 40
  00 80 4C 40
  00 FF 2F 00`);

/** The same example in format 1: tempo track and three tracks. */
const FORMAT_1 = bytesOf(`
  4D 54 68 64 00 00 00 06 00 01 00 04 00 60
  4D 54 72 6B 00 00 00 14
  00 FF 58 04 04 02 18 08
  00 FF 51 03 07 A1 20
  83 00 FF 2F 00
  4D 54 72 6B 00 00 00 10
  00 C0 05
  81 40 90 4C 20
  81 40 4C 00
  00 FF 2F 00
  4D 54 72 6B 00 00 00 0F
  00 C1 2E
  60 91 43 40
  82 20 43 00
  00 FF 2F 00
  4D 54 72 6B 00 00 00 15
  00 C2 46
  00 92 30 60
  00 3C 60
  83 00 30 00
  00 3C 00
  00 FF 2F 00`);

/** What both sound: [tick, duration, pitch, velocity, channel from 0]. */
const SOUNDED = [
  [0, 384, 48, 96, 2],
  [0, 384, 60, 96, 2],
  [96, 288, 67, 64, 1],
  [192, 192, 76, 32, 0],
];

for (const [name, bytes, format, tracks] of [
  ['format 0', FORMAT_0, 0, 1],
  ['format 1', FORMAT_1, 1, 4],
] as const) {
  test(`RP-001's example in ${name} is read as printed`, () => {
    const [take] = readTakes(bytes);
    const facts = takeFacts(take!);
    assert.equal(facts.format, format);
    assert.equal(facts.tracks, tracks);
    assert.equal(facts.ppq, 96);
    assert.equal(facts.ticks, 384);
    assert.equal(facts.seconds, 2);
    assert.deepEqual(facts.tempos, [{ tick: 0, bpm: 120 }]);
    assert.deepEqual(facts.meters, [{ tick: 0, numerator: 4, denominator: 4 }]);
    assert.deepEqual(facts.repairs, []);
    const notes = [...Array(take!.notes.length).keys()].map((i) => {
      const note = noteAt(take!.notes, i);
      return [note.tick, note.duration, note.pitch, note.velocity, note.channel];
    });
    assert.deepEqual(notes, SOUNDED);
    // Programs 6, 47 and 71 as people count them: electric piano 2, harp, bassoon.
    const programs = new Map(facts.streams.map((stream) => [stream.channel, stream.program]));
    assert.deepEqual([...programs].sort(), [
      [1, 6],
      [2, 47],
      [3, 71],
    ]);
  });
}

test("RP-001's example is written byte for byte: our running status is its", () => {
  assert.deepEqual(writeMidiFile(readMidiFile(FORMAT_1).file), FORMAT_1);
  assert.deepEqual(writeMidiFile(readMidiFile(FORMAT_0).file), FORMAT_0);
});
