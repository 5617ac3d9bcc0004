import assert from 'node:assert/strict';
import { test } from 'node:test';
import { findRole, type Role } from '../../../src/core/split/roles.ts';

const silentEvidence = {
  isDrumChannel: false,
  program: null,
  name: '',
  low: 60,
  median: 64,
  high: 70,
  polyphony: 1.8,
  density: 1,
  medianLength: 0.5,
  strummed: 0,
  kit: 0,
  misfit: null,
  lowest: null,
  click: false,
  slices: false,
};

/** Common practice: which role a General MIDI program (from 1) plays. */
const PROGRAM_ROLES: [number, Role][] = [
  [5, 'keys'],
  [20, 'keys'],
  [26, 'guitar'],
  [34, 'bass'],
  [49, 'strings'],
  [53, 'voice'],
  [57, 'brass'],
  [66, 'reeds'],
  [74, 'reeds'],
  [82, 'lead'],
  [90, 'pad'],
  [106, 'guitar'],
  [118, 'percussion'],
  [48, 'percussion'],
];

for (const [program, role] of PROGRAM_ROLES) {
  test(`program ${program} alone tells ${role}`, () => {
    assert.equal(findRole({ ...silentEvidence, program: program - 1 }).role, role);
  });
}

test('a name is worth more than a program', () => {
  for (const [name, role] of [
    ['Fingered bass', 'bass'],
    ['Click', 'click'],
    ['Nylon strum', 'guitar'],
    ['Bassoon', 'reeds'],
    ['Kit', 'drums'],
    ['Arp left', 'arpeggio'],
  ] as const) {
    assert.equal(findRole({ ...silentEvidence, program: 89, name }).role, role, name);
  }
});

test('where nothing is said, what is played decides, with less certainty', () => {
  const bass = findRole({ ...silentEvidence, low: 28, median: 36, high: 48, polyphony: 1 });
  assert.equal(bass.role, 'bass');
  const sure = findRole({ ...silentEvidence, program: 33, name: 'Bass', low: 28, median: 36, polyphony: 1 });
  assert.ok(sure.certainty > 0.9);
  const pad = findRole({ ...silentEvidence, polyphony: 3.5, medianLength: 4 });
  assert.equal(pad.role, 'pad');
  const guess = findRole(silentEvidence);
  assert.deepEqual([guess.role, guess.certainty < 0.75], ['keys', true]);
  assert.equal(findRole({ ...silentEvidence, polyphony: 1.4, median: 52 }).role, 'other');
});

test('the runner-up is what stood against it', () => {
  const finding = findRole({ ...silentEvidence, program: 48, name: 'Lead' });
  assert.equal(finding.role, 'lead');
  assert.equal(finding.runnerUp, 'strings');
  assert.ok(finding.certainty > 0.5 && finding.certainty < 0.7);
});
