import assert from 'node:assert/strict';
import { test } from 'node:test';
import { findRole, type Role } from '../../../src/core/split/roles.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import { takeOf, trackOf, type NoteSpec } from '../../support/midi.ts';

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
    ['Piano1 (MIDI)', 'keys'],
    ['Slap_Bass', 'bass'],
    ['Drumkit', 'drums'],
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
  assert.ok(finding.certainty > 0.7 && finding.certainty < 0.85);
});

test('what sounds outweighs a name that cannot be: chords called drums, chords far up called bass (common practice)', () => {
  const chords = {
    ...silentEvidence,
    polyphony: 3,
    medianLength: 2,
    low: 55,
    median: 64,
    high: 76,
    misfit: 0.05,
  };
  assert.equal(findRole({ ...chords, program: 48, name: 'Drums' }).role, 'strings');
  assert.equal(findRole({ ...chords, program: 48, name: 'Bass', lowest: 0 }).role, 'strings');
  assert.equal(findRole({ ...chords, program: 0, medianLength: 0.5, name: 'Drums' }).role, 'keys');
  assert.notEqual(findRole({ ...chords, program: 33, lowest: 0 }).role, 'bass');
  // A kit is one whatever its program says, and a timpani fits its chords.
  assert.equal(findRole({ ...chords, name: 'Drums', program: 48, misfit: 0.8, kit: 0.9 }).role, 'drums');
  assert.equal(findRole({ ...silentEvidence, program: 47, misfit: 0, polyphony: 1 }).role, 'percussion');
  // A high bass line under all else stays a bass.
  assert.equal(
    findRole({ ...silentEvidence, name: 'Bass', program: 33, low: 48, median: 58, polyphony: 1, lowest: 1 })
      .role,
    'bass',
  );
});

test('a run of semitones on an instrument that was chosen is no slices of a sample; without one it is', () => {
  const run = { ...silentEvidence, polyphony: 1, slices: true };
  assert.equal(findRole({ ...run, program: 26 }).role, 'guitar');
  assert.equal(findRole({ ...run, program: 26, name: 'Chops' }).role, 'slices');
  assert.equal(findRole(run).role, 'slices');
});

/** The role of quick single notes under something else, without names and programs. */
function roleUnder(above: readonly NoteSpec[], quick: readonly NoteSpec[]): Role {
  const split = splitTake(takeOf([trackOf([...quick, ...above])]));
  return split.parts.find(({ channel }) => channel === 0)!.role;
}

test('broken chords under a tune are no kit, however badly they fit it; a groove in which no two pieces meet is one', () => {
  // Sevenths of a blues, and a tune of which half is on the way from one of their notes to the next.
  const chords = [
    [44, 48, 51, 54],
    [37, 41, 44, 47],
    [44, 48, 51, 54],
    [39, 43, 46, 49],
  ];
  const line = [72, 72, 70, 72, 73, 72, 71, 71, 68, 70, 68, 67, 68, 67, 66, 66];
  const tune = Array.from({ length: 64 }, (_, i): NoteSpec => [i * 480, 470, line[i % 16]!, 90, 1]);
  for (let up = 0; up < 12; up++) {
    const broken = Array.from({ length: 128 }, (_, i): NoteSpec => [
      i * 240,
      220,
      chords[(i >> 3) % 4]![i % 4]! + up,
    ]);
    assert.notEqual(roleUnder(tune, broken), 'drums', `${up} semitones up`);
  }
  const groove = [36, 42, 38, 42, 36, 46, 38, 41];
  const kit = Array.from({ length: 128 }, (_, i): NoteSpec => [i * 240, 60, groove[i % 8]!]);
  const held = Array.from({ length: 16 }, (_, bar) =>
    [0, 4, 7].map((step): NoteSpec => [bar * 1920, 1900, 60 + [0, 5, 7, 0][bar % 4]! + step, 90, 1]),
  ).flat();
  assert.equal(roleUnder(held, kit), 'drums');
});
