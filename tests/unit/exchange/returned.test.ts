import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { test } from 'node:test';
import { readTakes } from '../../../src/core/capture/take.ts';
import {
  comparedWith,
  returnedWords,
  verdictOf,
  type Played,
  type PlayedNote,
} from '../../../src/core/exchange/returned.ts';
import { bpmOf, tempoAt } from '../../../src/core/music/timeline.ts';
import { splitTake, playingParts } from '../../../src/core/split/split.ts';
import { openmsxFiles, withoutOpenmsx } from '../../support/openmsx.ts';

/** Four-bar stretches of the parts of real files (openttd-openmsx, Debian): music that we did not make. */
function stretches(files: readonly string[]): Played[] {
  return files.flatMap((path) => {
    const [take] = readTakes(new Uint8Array(readFileSync(path)));
    const split = splitTake(take!);
    const { timeline } = take!.timing;
    const quarter = timeline.ppq;
    return playingParts(split).flatMap(({ part, notes }) => {
      const all = notes.map((i) => ({
        ...{ at: take!.notes.tick[i]! / quarter, length: take!.notes.duration[i]! / quarter },
        ...{ pitch: take!.notes.pitch[i]!, velocity: take!.notes.velocity[i]! },
      }));
      return [16, 64].flatMap((from): Played[] => {
        const within = all
          .filter(({ at }) => at >= from && at < from + 16)
          .map((note) => ({ ...note, at: note.at - from }));
        return within.length < 12
          ? []
          : [
              {
                notes: within,
                bpm: bpmOf(tempoAt(timeline, 0).microseconds),
                isDrums: part.role === 'drums',
              },
            ];
      });
    });
  });
}

const changed = (
  played: Played,
  change: (note: PlayedNote, i: number) => PlayedNote | null,
  more: Partial<Played> = {},
): Played => ({
  ...played,
  ...more,
  notes: played.notes.flatMap((note, i) => change(note, i) ?? []).sort((a, b) => a.at - b.at),
});

/** What is done to files that leave and come back (the specification's list). */
const WAYS: Record<string, (played: Played) => Played> = {
  'as it left': (played) => played,
  '96 ticks': (played) => changed(played, (note) => ({ ...note, at: Math.round(note.at * 96) / 96 })),
  'five semitones up': (played) =>
    played.isDrums ? played : changed(played, (note) => ({ ...note, pitch: note.pitch + 5 })),
  'twice the tempo': (played) => ({ ...played, bpm: played.bpm * 2 }),
  'in half time': (played) =>
    changed(played, (note) => ({ ...note, at: note.at * 2, length: note.length * 2 })),
  'a bar of silence in front': (played) => changed(played, (note) => ({ ...note, at: note.at + 4 })),
  'a tenth edited': (played) =>
    changed(played, (note, i) =>
      i % 10 === 3 ? { ...note, pitch: note.pitch + 1, at: note.at + 0.3 } : note,
    ),
  'quantized to sixteenths': (played) =>
    changed(played, (note) => ({ ...note, at: Math.round(note.at * 4) / 4 })),
  'all softer': (played) =>
    changed(played, (note) => ({ ...note, velocity: Math.max(1, Math.round(note.velocity * 0.8)) })),
};

/** How many of some stretches are known again through each way, with what the file says of itself or without. */
function knownAgain(
  sent: readonly Played[],
  saysSo: boolean,
): { share: number; missed: Record<string, number> } {
  const missed: Record<string, number> = {};
  sent.forEach((one, i) => {
    const id = saysSo ? `p${i}` : null;
    for (const [way, change] of Object.entries(WAYS)) {
      const verdict = verdictOf(comparedWith({ ...one, id }, { ...change(one), id }));
      if (verdict !== 'same' && verdict !== 'came back') missed[way] = (missed[way] ?? 0) + 1;
    }
  });
  const lost = Object.values(missed).reduce((sum, count) => sum + count, 0);
  return { share: 1 - lost / (sent.length * Object.keys(WAYS).length), missed };
}

test(
  'what left is known again through all that is usually done to it, on real music',
  { skip: withoutOpenmsx },
  () => {
    const sent = stretches(openmsxFiles.slice(0, 8));
    assert.ok(sent.length > 50);
    const [says, silent] = [knownAgain(sent, true), knownAgain(sent, false)];
    console.log(
      `returned: ${sent.length} stretches; with their ids ${says.share.toFixed(3)}, by notes alone ${silent.share.toFixed(3)}`,
    );
    assert.ok(says.share >= 0.98, JSON.stringify(says.missed));
    // Even velocities on few pitches are played alike everywhere: by notes alone nobody could tell whose they are.
    assert.ok(silent.share >= 0.9, JSON.stringify(silent.missed));
  },
);

test('strangers are strangers: parts of other real files', { skip: withoutOpenmsx }, () => {
  const sent = stretches(openmsxFiles.slice(0, 6)).slice(0, 30);
  const strangers = stretches(openmsxFiles.slice(8, 20)).slice(0, 60);
  const taken = sent.flatMap((one) =>
    strangers.filter((other) => ['same', 'came back'].includes(verdictOf(comparedWith(one, other)))),
  );
  console.log(`strangers: ${taken.length} of ${sent.length * strangers.length} pairs taken for ours`);
  assert.ok(taken.length <= 0.002 * sent.length * strangers.length, String(taken.length));
});

const line: Played = {
  bpm: 100,
  isDrums: false,
  notes: [60, 62, 64, 67, 65, 64, 62, 60, 59, 60, 64, 67].map((pitch, i) => ({
    at: i / 2,
    length: 0.5,
    pitch,
    velocity: 70 + ((i * 13) % 40),
  })),
};

test('what was done to it is told: key, tempo, offset, delay, level, notes that changed', () => {
  const back = (change: (note: PlayedNote, i: number) => PlayedNote | null, more: Partial<Played> = {}) =>
    comparedWith(line, changed(line, change, more))!;
  assert.equal(verdictOf(comparedWith(line, line)), 'same');
  assert.equal(back((note) => ({ ...note, pitch: note.pitch - 3 })).semitones, -3);
  assert.equal(back((note) => note, { bpm: 50 }).tempoRatio, 0.5);
  // 12 ms at 100 BPM are 0.02 quarter notes.
  const late = back((note) => ({ ...note, at: note.at + 4.02 }));
  assert.deepEqual([late.offset, late.lateMs], [4, 12]);
  assert.equal(back((note) => ({ ...note, velocity: Math.round(note.velocity * 0.8) })).velocityFactor, 0.8);
  const edited = back((note, i) => (i === 4 ? null : i === 7 ? { ...note, at: note.at + 0.1 } : note));
  assert.deepEqual([edited.gone, edited.added, edited.moved], [1, 0, 1]);
  assert.equal(back((note, i) => (i < 7 ? note : null)).extent, 'cut');
  assert.equal(
    returnedWords('Ferry bass', late),
    'Ferry bass, come back: 4 quarter notes later, all 12 ms later',
  );
});
