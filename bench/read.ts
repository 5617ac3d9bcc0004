import { parseMidi } from 'midi-file';
import { readMidiFile } from '../src/core/midi/read.ts';
import { timeInTurn, type BenchResult } from './measure.ts';
import { midiMaterial } from './material.ts';

/** Reading files into events, against the parser of the npm package midi-file on the same bytes. */
export function bench(): BenchResult {
  const files = midiMaterial();
  const each = (read: (bytes: Uint8Array) => unknown) => () => {
    for (let i = 0; i < 5; i++) for (const bytes of files) read(bytes);
  };
  const { ours, reference } = timeInTurn(each(readMidiFile), each(parseMidi));
  console.log(
    `${files.length} files, ${files.reduce((sum, bytes) => sum + bytes.length, 0)} bytes, read 5 times a round`,
  );
  return { bench: 'read', ours, reference, ratio: ours / reference, unit: 'ms' };
}
