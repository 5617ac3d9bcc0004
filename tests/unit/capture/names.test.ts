import assert from 'node:assert/strict';
import { test } from 'node:test';
import { guessFromName } from '../../../src/core/capture/name-guess.ts';
import { findPasses, joinPasses } from '../../../src/core/capture/passes.ts';
import { takeFrom, trackName } from '../../../src/core/capture/take.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import { band } from '../../../src/core/standins/band.ts';
import { passFiles, performanceFile } from '../../../src/core/standins/performance.ts';

test('names that say tempo, key, meter and section are believed as guesses', () => {
  assert.deepEqual(guessFromName('Thistle 104bpm Bm bridge.mid'), {
    bpm: 104,
    key: { tonic: 11, mode: 'minor' },
    section: 'bridge',
  });
  assert.deepEqual(guessFromName('Goose/Frost_Waltz_3-4_132 BPM_E minor.MID'), {
    bpm: 132,
    key: { tonic: 4, mode: 'minor' },
    meter: { numerator: 3, denominator: 4 },
    folder: 'Goose',
  });
  assert.deepEqual(guessFromName('old/ferry/intro in F.mid').key, { tonic: 5, mode: 'major' });
  assert.deepEqual(guessFromName('Fog A dorian.mid').key, { tonic: 9, mode: 'dorian' });
  assert.deepEqual(guessFromName('C:\\tunes\\Lamp Ebmaj.mid'), {
    key: { tonic: 3, mode: 'major' },
    folder: 'tunes',
  });
});

test('names that say nothing are left alone: letters, numbers and words are not keys and tempos', () => {
  const names = [
    'A quarrel at the stall',
    'take 120',
    'Bend and amble',
    '1999',
    'Gems',
    'F',
    '5000bpm',
    'Bar 1-4',
  ];
  for (const name of names) assert.deepEqual(guessFromName(`${name}.mid`), {}, name);
});

const performance = { ...band.play({ ...band.defaults, looseness: 0 }), title: 'Ferry' };

test('passes of one performance are found by name and length, others are left alone', () => {
  const files = [
    ...['Ferry - Bass', 'Ferry - Kit', 'Ferry - Keys'].map((name) => ({ name, bars: 8, bpm: 96 })),
    { name: 'Ferry - Guitar', bars: 24, bpm: 96 },
    { name: 'Ferry - Pad', bars: 8, bpm: 120 },
    { name: 'Market bass', bars: 8, bpm: 96 },
    { name: 'Bass', bars: 8, bpm: 96 },
  ];
  assert.deepEqual(findPasses(files), [{ name: 'Ferry', files: [0, 1, 2] }]);
});

test('passes joined are the performance: every note, one tempo, a track an instrument', () => {
  const joined = takeFrom(joinPasses('Ferry', passFiles(performance)));
  const whole = takeFrom(performanceFile(performance));
  const notes = (take: typeof whole) =>
    [...Array(take.notes.length).keys()]
      .map((i) =>
        [
          take.notes.tick[i],
          take.notes.pitch[i],
          take.notes.duration[i],
          take.notes.velocity[i],
          take.notes.channel[i],
        ].join(' '),
      )
      .sort();
  assert.deepEqual(notes(joined), notes(whole));
  assert.deepEqual(joined.timing.timeline, whole.timing.timeline);
  assert.deepEqual(
    splitTake(joined)
      .parts.map(({ name }) => name)
      .sort(),
    ['Bass', 'Guitar', 'Keys', 'Kit', 'Pad'],
  );
  assert.equal(trackName(joined.file, 0), 'Ferry');
});

test('passes of different resolutions are joined without moving a note', () => {
  const [one, two] = passFiles(performance);
  const finer = {
    ...two!,
    midi: {
      ...two!.midi,
      division: { kind: 'metrical' as const, ppq: 360 },
      tracks: two!.midi.tracks.map((events) =>
        events.map((event) => ({ ...event, tick: Math.floor(event.tick / 4) * 3 })),
      ),
    },
  };
  const joined = takeFrom(joinPasses('Ferry', [one!, finer]));
  assert.equal(joined.timing.timeline.ppq, 1440);
  assert.equal(joined.notes.length, takeFrom(one!.midi).notes.length + takeFrom(two!.midi).notes.length);
});
