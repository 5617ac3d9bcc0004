import assert from 'node:assert/strict';
import { test } from 'node:test';
import { noteAt, pairNotes } from '../../../src/core/midi/notes.ts';
import { channelEvent } from '../../../src/core/midi/smf.ts';
import { endOfTrack, fileOf } from '../../support/midi.ts';

const on = (tick: number, pitch: number, velocity = 90) => channelEvent(tick, 0x90, 0, pitch, velocity);
const off = (tick: number, pitch: number) => channelEvent(tick, 0x80, 0, pitch, 30);
const pair = (...events: ReturnType<typeof on>[]) => pairNotes(fileOf([[...events, endOfTrack(1000)]]));
const lengths = (result: ReturnType<typeof pair>) =>
  [...Array(result.notes.length).keys()].map((i) => {
    const { tick, duration, pitch } = noteAt(result.notes, i);
    return [tick, duration, pitch];
  });

test('a note-on of velocity 0 ends a note, and its release is the default 64', () => {
  const { notes } = pair(on(0, 60), on(100, 60, 0));
  assert.equal(notes.duration[0], 100);
  assert.equal(notes.release[0], 64);
});

test('notes of one pitch pair first in, first out', () => {
  assert.deepEqual(lengths(pair(on(0, 60), on(50, 60), off(100, 60), off(300, 60))), [
    [0, 100, 60],
    [50, 250, 60],
  ]);
});

test('a note that never ends is ended with the track and reported', () => {
  const result = pair(on(0, 60), on(10, 61), off(20, 60));
  assert.deepEqual(lengths(result), [
    [0, 20, 60],
    [10, 990, 61],
  ]);
  assert.equal(result.repairs[0]!.code, 'note-hung');
  assert.equal(result.repairs[0]!.tick, 10);
});

for (const controller of [120, 123, 124, 125, 126, 127]) {
  test(`controller ${controller} ends what sounds on its channel (MIDI 1.0 channel mode messages)`, () => {
    const result = pair(on(0, 60), on(0, 64), channelEvent(200, 0xb0, 0, controller, 0));
    assert.deepEqual(
      lengths(result).map(([, duration]) => duration),
      [200, 200],
    );
    assert.deepEqual(result.repairs, []);
  });
}

test('a note-off that ends nothing is counted', () => {
  const { repairs } = pair(off(5, 60), off(6, 61));
  assert.match(repairs[0]!.message, /^2 note-offs/);
});
