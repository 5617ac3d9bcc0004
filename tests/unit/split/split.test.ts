import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { basename } from 'node:path';
import { test } from 'node:test';
import fc from 'fast-check';
import { readTakes, takeFrom } from '../../../src/core/capture/take.ts';
import { partFiles } from '../../../src/core/exchange/part-files.ts';
import { noteAt, type Notes } from '../../../src/core/midi/notes.ts';
import { channelEvent, META, metaEvent } from '../../../src/core/midi/smf.ts';
import { encodeText } from '../../../src/core/midi/text.ts';
import { writeMidiFile } from '../../../src/core/midi/write.ts';
import { applyMoves, describeMove, MoveError } from '../../../src/core/split/moves.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import { tallyOf } from '../../../src/core/split/tally.ts';
import { bandFile } from '../../../src/core/standins/band.ts';
import { midiFileArbitrary, takeOf, trackOf } from '../../support/midi.ts';
import { openmsxFiles, withoutOpenmsx } from '../../support/openmsx.ts';

const named = (name: string) => metaEvent(0, META.trackName, encodeText(name));

test('a part for each track, channel and program in force, named by what sounds where a track holds several; tracks without notes are left out', () => {
  const take = takeOf([
    trackOf([]),
    trackOf(
      [
        [0, 240, 40, 90, 1],
        [960, 240, 64, 90, 1],
        [1200, 240, 64, 90, 2],
      ],
      [
        named('Mixed'),
        channelEvent(0, 0xc0, 1, 33),
        channelEvent(960, 0xc0, 1, 52),
        channelEvent(0, 0xc0, 2, 60),
      ],
    ),
  ]);
  const split = splitTake(take);
  assert.deepEqual(
    split.parts.map((part) => [part.name, part.channel, part.program, part.role]),
    [
      ['Electric Bass (finger)', 1, 33, 'bass'],
      ['Choir Aahs', 1, 52, 'voice'],
      ['French Horn', 2, 60, 'brass'],
    ],
  );
  assert.equal(split.emptyTracks, 1);
});

test('a program set up in another track holds where it is the only one for the channel', () => {
  const take = takeOf([trackOf([], [channelEvent(0, 0xc0, 4, 48)]), trackOf([[0, 480, 60, 90, 4]])]);
  const [part] = splitTake(take).parts;
  assert.deepEqual([part!.name, part!.role], ['String Ensemble 1', 'strings']);
});

test('names that say nothing give way to the General MIDI name', () => {
  for (const name of ['MIDI 01', 'Track 3', '', '12', 'Staff-1']) {
    const take = takeOf([trackOf([[0, 480, 60]], [named(name), channelEvent(0, 0xc0, 0, 73)])]);
    assert.equal(splitTake(take).parts[0]!.name, 'Flute', name);
  }
});

test('channel 10 is a kit whatever its program', () => {
  const take = takeOf([trackOf([[0, 60, 36, 90, 9]], [channelEvent(0, 0xc0, 9, 40)])]);
  const [part] = splitTake(take).parts;
  assert.equal(part!.role, 'drums');
  assert.match(part!.reasons[0]!, /channel 10/);
});

test('the band comes apart into its instruments, its bass in three', () => {
  const take = takeFrom(
    bandFile({ chart: 'Dm | Gm | A7 | Dm', style: 'river', bpm: 96, seed: 1, title: 'x' }),
  );
  const split = splitTake(take);
  assert.deepEqual(
    split.parts.map((part) => [part.name, part.role]),
    [
      ['Kit', 'drums'],
      ['Bass', 'bass'],
      ['Bass pickup', 'bass'],
      ['Bass ending', 'bass'],
      ['Keys', 'keys'],
      ['Guitar', 'guitar'],
      ['Pad', 'pad'],
    ],
  );
  // The conductor and the empty lyrics track.
  assert.equal(split.emptyTracks, 2);
});

test('what was set aside from a part that was merged away comes back to where its notes went', () => {
  const take = takeOf([
    trackOf([[0, 10, 60]]),
    trackOf([
      [0, 10, 62],
      [500, 10, 64],
    ]),
  ]);
  const split = applyMoves(splitTake(take), take.notes, [
    { move: 'setAside', part: 'p2', reason: 'not now', fromTick: 400 },
    { move: 'merge', parts: ['p1', 'p2'] },
    { move: 'bringBack', entry: 0 },
  ]);
  assert.deepEqual(tallyOf(split).parts, [3, 0]);
});

test('moves that name what is not there are refused, and every move has words', () => {
  const take = takeOf([trackOf([[0, 10, 60]], [named('Tune')])]);
  const split = splitTake(take);
  assert.throws(() => applyMoves(split, take.notes, [{ move: 'rename', part: 'p9', name: 'x' }]), MoveError);
  assert.throws(() => applyMoves(split, take.notes, [{ move: 'bringBack', entry: 0 }]), MoveError);
  assert.throws(() => applyMoves(split, take.notes, [{ move: 'merge', parts: ['p1'] }]), MoveError);
  assert.throws(() => applyMoves(split, take.notes, [{ move: 'merge', parts: ['p1', 'p1'] }]), MoveError);
  assert.equal(describeMove({ move: 'role', part: 'p1', role: 'lead' }, split), 'Tune is lead');
  assert.equal(describeMove({ move: 'setAside', part: 'p1', reason: '' }, split), 'set aside Tune');
});

/** Every note as text, in an order that does not depend on tracks. */
function soundingNotes(notes: Notes): string[] {
  return [...Array(notes.length).keys()]
    .map((i) => noteAt(notes, i))
    .map((n) => [n.tick, n.channel, n.pitch, n.duration, n.velocity, n.release].join(' '))
    .sort();
}

function readBack(files: ReturnType<typeof partFiles>): string[] {
  return files.flatMap(({ midi }) => soundingNotes(readTakes(writeMidiFile(midi))[0]!.notes)).sort();
}

test('split to files and read back, every note of any take is there, exactly', () => {
  fc.assert(
    fc.property(midiFileArbitrary, (file) => {
      const take = takeFrom(file);
      const first = splitTake(take);
      const split =
        first.parts.length > 1
          ? applyMoves(first, take.notes, [{ move: 'setAside', part: 'p2', reason: 'test' }])
          : first;
      assert.deepEqual(readBack(partFiles(take, split)), soundingNotes(take.notes));
    }),
    { numRuns: 200 },
  );
});

test('31 real files split to files hold every note between them', { skip: withoutOpenmsx }, () => {
  for (const path of openmsxFiles) {
    const take = readTakes(readFileSync(path))[0]!;
    const split = splitTake(take);
    assert.ok(tallyOf(split).balanced);
    assert.deepEqual(readBack(partFiles(take, split)), soundingNotes(take.notes), basename(path));
  }
});
