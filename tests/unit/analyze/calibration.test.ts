import assert from 'node:assert/strict';
import { existsSync } from 'node:fs';
import { test } from 'node:test';
import { calibrationError, harmonySaid, rolesSaid } from '../../../bench/accuracy/calibration.ts';
import { withoutOpenmsx } from '../../support/openmsx.ts';

/** Of what is said with 0.9, nine in ten are right: an expected calibration error of 0.05 or less. */

const withoutAbc = existsSync('/usr/bin/abc2midi') ? false : 'abcmidi is not installed';

test('the error is the distance between what is said and how often it is so, by the size of the bins', () => {
  const said = [
    { certainty: 0.9, right: true },
    { certainty: 0.9, right: false },
    { certainty: 0.3, right: false },
    { certainty: 0.3, right: false },
  ];
  assert.ok(Math.abs(calibrationError(said) - (0.5 * 0.4 + 0.5 * 0.3)) < 1e-9);
});

test('keys and chords of five families of charts', { skip: withoutAbc }, () => {
  const { keys, chords } = harmonySaid(24);
  assert.ok(calibrationError(Object.values(keys).flat()) <= 0.05);
  assert.ok(calibrationError(Object.values(chords).flat()) <= 0.05);
});

test('roles of real files and stand-ins, with names and without', { skip: withoutOpenmsx }, () => {
  assert.ok(calibrationError(Object.values(rolesSaid()).flat()) <= 0.05);
});
