import assert from 'node:assert/strict';
import { test } from 'node:test';
import { Key as TonalKey, Note } from 'tonal';
import {
  intervalBetween,
  keyFromSignature,
  keyLabel,
  keyName,
  keySignature,
  parseKey,
} from '../../../src/core/music/key.ts';
import { parsePitchClass, pitchName } from '../../../src/core/music/pitch.ts';

test('pitch names agree with the reference library tonal, in sharps', () => {
  for (let pitch = 0; pitch < 128; pitch++) assert.equal(pitchName(pitch), Note.fromMidiSharps(pitch));
});

test('pitch names agree with tonal in flats, and middle C can be C3', () => {
  for (let pitch = 0; pitch < 128; pitch++) {
    assert.equal(pitchName(pitch, { flats: true }), Note.fromMidi(pitch));
  }
  assert.equal(pitchName(60, { middleC: 3 }), 'C3');
});

test('names are read as pitch classes', () => {
  for (const name of ['C', 'C#', 'Db', 'E#', 'Fb', 'B#', 'Cb', 'Bb']) {
    assert.equal(parsePitchClass(name), Note.chroma(name));
  }
  assert.equal(parsePitchClass('H'), undefined);
});

test('key signatures of major and minor keys agree with tonal', () => {
  for (const tonic of ['C', 'G', 'D', 'A', 'E', 'B', 'F', 'Bb', 'Eb', 'Ab', 'Db', 'Gb']) {
    assert.equal(keySignature(parseKey(tonic)!), TonalKey.majorKey(tonic).alteration, tonic);
  }
  for (const tonic of ['A', 'E', 'B', 'F#', 'C#', 'G#', 'D', 'G', 'C', 'F', 'Bb', 'Eb']) {
    const { relativeMajor } = TonalKey.minorKey(tonic);
    assert.equal(keySignature(parseKey(`${tonic}m`)!), TonalKey.majorKey(relativeMajor).alteration, tonic);
  }
});

test('a signature and its key are each other', () => {
  for (let fifths = -6; fifths <= 5; fifths++) {
    for (const minor of [false, true]) {
      assert.equal(keySignature(keyFromSignature(fifths, minor)), fifths);
    }
  }
});

test('keys are named as musicians write them', () => {
  assert.equal(keyName(parseKey('Bb')!), 'Bb major');
  assert.equal(keyName(parseKey('c# minor')!), 'C# minor');
  assert.equal(keyLabel(parseKey('Ebm')!), 'Ebm');
  assert.equal(keyName(parseKey('F lydian')!), 'F lydian');
  // F lydian has the notes of C major: no signs.
  assert.equal(keySignature(parseKey('F lydian')!), 0);
  assert.equal(parseKey('H dur'), undefined);
});

test('the shorter way between two tonics, a tritone up', () => {
  assert.equal(intervalBetween(0, 7), -5);
  assert.equal(intervalBetween(0, 5), 5);
  assert.equal(intervalBetween(0, 6), 6);
  assert.equal(intervalBetween(2, 9), -5);
});
