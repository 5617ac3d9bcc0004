import assert from 'node:assert/strict';
import { test } from 'node:test';
import { fMeasure, scoreBeats } from '../../../bench/accuracy/beats.ts';
import { freeTakes } from '../../../bench/accuracy/free-takes.ts';
import { barsByBeats, findBeats } from '../../../src/core/analyze/beats.ts';
import { keepsGrid, otherTempo } from '../../../src/core/analyze/tempo.ts';
import { retimeTake } from '../../../src/core/capture/retime.ts';
import { takeFrom } from '../../../src/core/capture/take.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import { bandFile } from '../../../src/core/standins/band.ts';
import { takeOf, trackOf, type NoteSpec } from '../../support/midi.ts';

test('F-measure as beat tracking counts it: a window of 70 ms, each beat found once', () => {
  assert.equal(fMeasure([1, 2, 3], [1, 2, 3]), 1);
  assert.equal(fMeasure([1.069, 2.071], [1, 2]), 0.5);
  assert.equal(fMeasure([1, 1.01], [1]), 2 / 3);
  assert.equal(fMeasure([], [1]), 0);
});

test('beats of takes without a click, ramps and waves, are found for nearly all; steady takes keep their grid', () => {
  const takes = freeTakes(24, { seed: 77 });
  const scores = scoreBeats(takes);
  const good = scores.filter(({ beats }) => beats >= 0.9).length;
  assert.ok(good >= 20, `${good} of 24`);
  const told = takes.filter(({ take }) => !keepsGrid(take)).length;
  assert.ok(told >= 21, `${told} of 24 are told to stand on no grid`);
});

test('on its own bars a free take keeps the grid, and its tempo curve is kept', () => {
  const free = freeTakes(8, { seed: 77 }).find(
    ({ name, drift }) => name.startsWith('plain') && drift === 'ramp',
  )!;
  const found = findBeats(free.take, splitTake(free.take))!;
  const moved = retimeTake(free.take, barsByBeats(free.take, found));
  assert.ok(keepsGrid({ ...moved, timing: { ...moved.timing, tempos: [] } }));
  assert.ok(moved.timing.timeline.tempos.length > 8);
});

test('too little to tell by: no beats are claimed', () => {
  const take = takeOf([trackOf([[0, 100, 60], [500, 100, 62]])]); // prettier-ignore
  assert.equal(findBeats(take, splitTake(take)), null);
  assert.equal(otherTempo(take, splitTake(take)), null);
});

test('a groove written in half as many bars is offered in double time; one written as it is played is not', () => {
  const played = takeFrom(
    bandFile({
      chart: 'C | F | G7 | C | C | F | G7 | C',
      style: 'river',
      bpm: 100,
      seed: 2,
      title: 'x',
      mishaps: [],
    }),
  );
  assert.notEqual(otherTempo(played, splitTake(played))?.factor, 2);
  const { notes } = played;
  // The same, each quarter note written as an eighth.
  const written = Array.from({ length: notes.length }, (_, i): NoteSpec => [
    Math.round(notes.tick[i]! / 2),
    Math.max(1, Math.round(notes.duration[i]! / 2)),
    notes.pitch[i]!,
    notes.velocity[i]!,
    notes.channel[i]!,
  ]);
  const half = takeOf([
    trackOf(written, [
      { tick: 0, status: 0xff, data1: 0x51, data2: 0, bytes: Uint8Array.of(0x12, 0x4f, 0x80) },
    ]),
  ]);
  assert.equal(otherTempo(half, splitTake(half))?.factor, 2);
});
