import assert from 'node:assert/strict';
import { test } from 'node:test';
import { accompaniments } from '../../../src/core/catalog/accompany.ts';
import { octaveWithRoom } from '../../../src/core/vary/room.ts';
import { barOf } from '../../support/clips.ts';

// Every check here is common practice: an accompaniment strikes between the tune's notes and lies under it.

/** A tune that strikes on the beats and rests on beat four. */
const tune = barOf(
  [
    [0, 440, 76],
    [480, 440, 74],
    [960, 440, 72],
  ],
  { role: 'lead' },
);

const chord = (ticks: readonly number[], low: number, length = 200) =>
  barOf(
    ticks.flatMap((tick) => [0, 4, 7].map((step) => [tick, length, low + step] as [number, number, number])),
    { role: 'keys' },
  );

test('who strikes between the tune goes before who strikes with it', () => {
  const [between, together] = accompaniments(tune, [chord([240, 720, 1440], 55), chord([0, 480, 960], 55)]);
  assert.ok(between!.score > together!.score + 15, `${between!.score} against ${together!.score}`);
  assert.equal(between!.reasons[0]!.text, "100 % of its strokes between the tune's");
  assert.equal(together!.reasons[0]!.text, "0 % of its strokes between the tune's");
});

test('who lies a fifth or more under the tune goes before who lies over it, or in unison for longer than a beat', () => {
  const register = (low: number, length?: number) =>
    accompaniments(tune, [chord([240, 720, 1440], low, length)])[0]!.reasons[1]!;
  assert.deepEqual(register(55), { part: 'register', score: 1, text: 'lies under the tune' });
  assert.equal(register(84).score, 0);
  assert.match(register(84).text, /over the tune/);
  const long = barOf([[0, 1900, 76]], { role: 'lead' });
  const unison = accompaniments(long, [barOf([[0, 1800, 76]], { role: 'pad' })])[0]!;
  assert.match(unison.reasons[1]!.text, /in unison for longer than a beat/);
});

test('the tempo counts, half and double time too; a phrase without strokes is worth little', () => {
  const at = (bpm: number) => {
    const clip = chord([240, 720, 1440], 55);
    const timeline = { ...clip.timeline, tempos: [{ tick: 0, microseconds: 60_000_000 / bpm }] };
    return accompaniments(tune, [{ ...clip, timeline: { ...clip.timeline, ...timeline } }])[0]!.reasons[2]!
      .score;
  };
  assert.equal(at(120), 1);
  assert.ok(at(60) > 0.8 && at(60) < 1);
  assert.ok(at(90) < at(60));
});

test('an octave with room: away from what sounds, by the smaller way; drums have none', () => {
  const pad = chord([0], 60, 1900);
  assert.equal(octaveWithRoom(chord([0], 60, 1900), [pad]), -1);
  assert.equal(octaveWithRoom(chord([0], 36, 1900), [pad]), 0);
  assert.equal(octaveWithRoom(chord([0], 60, 1900), [pad, chord([0], 48, 1900)]), 1);
  assert.equal(octaveWithRoom({ ...pad, role: 'drums' }, [pad]), 0);
  assert.equal(octaveWithRoom(pad, []), 0);
});
