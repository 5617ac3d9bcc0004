import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { basename } from 'node:path';
import { test } from 'node:test';
import fc from 'fast-check';
import { parseMidi, type MidiEvent as OracleEvent } from 'midi-file';
import { readMidiFile } from '../../../src/core/midi/read.ts';
import { META, type MidiEvent, type MidiFile } from '../../../src/core/midi/smf.ts';
import { writeMidiFile } from '../../../src/core/midi/write.ts';
import { midiFileArbitrary } from '../../support/midi.ts';
import { openmsxFiles, withoutOpenmsx } from '../../support/openmsx.ts';

/** The reference library from npm: its channel events as [tick, kind, channel, data1, data2]. */
function oracleEvents(bytes: Uint8Array): (number | string)[][][] {
  return parseMidi(bytes).tracks.map((track) => {
    let tick = 0;
    return track.flatMap((event) => {
      tick += event.deltaTime;
      const described = describeOracle(event);
      return described ? [[tick, ...described]] : [];
    });
  });
}

function describeOracle(event: OracleEvent): (number | string)[] | null {
  switch (event.type) {
    case 'noteOn':
      return ['on', event.channel, event.noteNumber, event.velocity];
    case 'noteOff':
      return ['off', event.channel, event.noteNumber];
    case 'controller':
      return ['controller', event.channel, event.controllerType, event.value];
    case 'programChange':
      return ['program', event.channel, event.programNumber];
    case 'pitchBend':
      return ['bend', event.channel, event.value];
    case 'setTempo':
      return ['tempo', event.microsecondsPerBeat];
    case 'timeSignature':
      return ['meter', event.numerator, event.denominator];
    case 'endOfTrack':
      return ['end'];
    default:
      return null;
  }
}

function ourEvents(file: MidiFile): (number | string)[][][] {
  return file.tracks.map((track) =>
    track.flatMap((event) => {
      const described = describeOurs(event);
      return described ? [[event.tick, ...described]] : [];
    }),
  );
}

function describeOurs({ status, data1, data2, bytes }: MidiEvent): (number | string)[] | null {
  const channel = status & 15;
  switch (status & 0xf0) {
    case 0x90:
      return data2 === 0 ? ['off', channel, data1] : ['on', channel, data1, data2];
    case 0x80:
      return ['off', channel, data1];
    case 0xb0:
      return ['controller', channel, data1, data2];
    case 0xc0:
      return ['program', channel, data1];
    case 0xe0:
      return ['bend', channel, data1 + data2 * 128 - 0x2000];
  }
  if (status !== 0xff) return null;
  if (data1 === META.tempo) return ['tempo', (bytes![0]! << 16) | (bytes![1]! << 8) | bytes![2]!];
  if (data1 === META.meter) return ['meter', bytes![0]!, 2 ** bytes![1]!];
  return data1 === META.endOfTrack ? ['end'] : null;
}

test('any file we write is read alike by the reference library and by us', () => {
  fc.assert(
    fc.property(midiFileArbitrary, (file) => {
      const bytes = writeMidiFile(file);
      assert.deepEqual(ourEvents(readMidiFile(bytes).file), oracleEvents(bytes));
    }),
    { numRuns: 200 },
  );
});

test('reading what was written gives the same events, and writing that the same bytes', () => {
  fc.assert(
    fc.property(midiFileArbitrary, (file) => {
      const bytes = writeMidiFile(file);
      const { file: again, repairs } = readMidiFile(bytes);
      assert.deepEqual(repairs, []);
      assert.deepEqual(again, file);
      assert.deepEqual(writeMidiFile(again), bytes);
    }),
    { numRuns: 300 },
  );
});

test('31 real files are read as the reference library reads them', { skip: withoutOpenmsx }, () => {
  assert.equal(openmsxFiles.length, 31);
  for (const path of openmsxFiles) {
    const bytes = readFileSync(path);
    assert.deepEqual(ourEvents(readMidiFile(bytes).file), oracleEvents(bytes), basename(path));
  }
});
