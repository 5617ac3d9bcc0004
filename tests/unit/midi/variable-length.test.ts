import assert from 'node:assert/strict';
import { test } from 'node:test';
import { readMidiFile } from '../../../src/core/midi/read.ts';
import { variableLength } from '../../../src/core/midi/write.ts';
import { bytesOf } from '../../support/midi.ts';

/** Table of variable-length quantities in RP-001, "Standard MIDI Files 1.0", page 2. */
const TABLE: [number, string][] = [
  [0x00000000, '00'],
  [0x00000040, '40'],
  [0x0000007f, '7F'],
  [0x00000080, '81 00'],
  [0x00002000, 'C0 00'],
  [0x00003fff, 'FF 7F'],
  [0x00004000, '81 80 00'],
  [0x00100000, 'C0 80 00'],
  [0x001fffff, 'FF FF 7F'],
  [0x00200000, '81 80 80 00'],
  [0x08000000, 'C0 80 80 00'],
  [0x0fffffff, 'FF FF FF 7F'],
];

for (const [value, hex] of TABLE) {
  test(`${value} is written as ${hex} and read back as a delta time`, () => {
    assert.deepEqual(variableLength(value), bytesOf(hex));
    const length = variableLength(value).length + 3;
    const header = bytesOf(`4D 54 68 64 00 00 00 06 00 00 00 01 01 E0 4D 54 72 6B 00 00 00 0${length}`);
    const { file, repairs } = readMidiFile(Uint8Array.from([...header, ...bytesOf(hex), 0xff, 0x2f, 0]));
    assert.equal(file.tracks[0]![0]!.tick, value);
    assert.deepEqual(repairs, []);
  });
}

test('what does not fit four bytes is refused', () => {
  assert.throws(() => variableLength(0x10000000), RangeError);
  assert.throws(() => variableLength(-1), RangeError);
});
