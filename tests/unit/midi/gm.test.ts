import assert from 'node:assert/strict';
import { test } from 'node:test';
import { drumName, GM_FAMILIES, GM_PROGRAMS, kitPiece, programName } from '../../../src/core/midi/gm.ts';

/** Corner entries of the sound set, General MIDI System Level 1 (from memory), program numbers from 1. */
const PROGRAMS: [number, string][] = [
  [1, 'Acoustic Grand Piano'],
  [8, 'Clavi'],
  [9, 'Celesta'],
  [25, 'Acoustic Guitar (nylon)'],
  [33, 'Acoustic Bass'],
  [41, 'Violin'],
  [49, 'String Ensemble 1'],
  [57, 'Trumpet'],
  [66, 'Alto Sax'],
  [74, 'Flute'],
  [81, 'Lead 1 (square)'],
  [89, 'Pad 1 (new age)'],
  [97, 'FX 1 (rain)'],
  [105, 'Sitar'],
  [115, 'Steel Drums'],
  [128, 'Gunshot'],
];

test('the General MIDI sound set has 128 programs in sixteen families of eight', () => {
  assert.equal(GM_PROGRAMS.length, 128);
  assert.equal(new Set(GM_PROGRAMS).size, 128);
  assert.equal(GM_FAMILIES.length, 16);
  for (const [number, name] of PROGRAMS) assert.equal(programName(number - 1), name);
});

test('the General MIDI percussion map runs from 35 to 81', () => {
  assert.equal(drumName(34), undefined);
  assert.equal(drumName(35), 'Acoustic Bass Drum');
  assert.equal(drumName(38), 'Acoustic Snare');
  assert.equal(drumName(42), 'Closed Hi-Hat');
  assert.equal(drumName(49), 'Crash Cymbal 1');
  assert.equal(drumName(60), 'Hi Bongo');
  assert.equal(drumName(81), 'Open Triangle');
  assert.equal(drumName(82), undefined);
});

test('every kit pitch has its piece, everything else is percussion', () => {
  assert.equal(kitPiece(36), 'kick');
  assert.equal(kitPiece(40), 'snare');
  assert.equal(kitPiece(57), 'crash');
  assert.equal(kitPiece(56), 'percussion');
});
