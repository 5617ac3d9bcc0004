import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import type { Take } from '../../../src/core/capture/take.ts';
import { channelEvent } from '../../../src/core/midi/smf.ts';
import { divisionMove, groupsOf, type Division } from '../../../src/core/split/division.ts';
import { kitAmong, layersOf } from '../../../src/core/split/mixed.ts';
import { meantLengths } from '../../../src/core/split/meant-lengths.ts';
import { applyMoves } from '../../../src/core/split/moves.ts';
import { offersFor } from '../../../src/core/split/proposals.ts';
import { splitTake, type Split } from '../../../src/core/split/split.ts';
import { splitAtMovingPoint } from '../../../src/core/split/split-point.ts';
import { tallyOf } from '../../../src/core/split/tally.ts';
import { bassChordsTop, twoHands } from '../../../src/core/split/voices.ts';
import { takeOf, trackOf, type NoteSpec } from '../../support/midi.ts';

const all = (take: Take) => [...Array(take.notes.length).keys()];
const pitches = (take: Take, notes: readonly number[]) => notes.map((i) => take.notes.pitch[i]!);

test('two hands that move up the keyboard together are parted where they part', () => {
  // An octave in the left, a third in the right, both a step up every beat: no fixed pitch parts them.
  const steps = [0, 2, 4, 5, 7, 9, 11, 12, 14, 16, 17, 19];
  const left = steps.flatMap((step, i): NoteSpec[] => [
    [i * 480, 400, 36 + step],
    [i * 480, 400, 48 + step],
  ]);
  const right = steps.flatMap((step, i): NoteSpec[] => [
    [i * 480, 400, 64 + step],
    [i * 480, 400, 67 + step],
  ]);
  const take = takeOf([trackOf([...left, ...right])]);
  const hands = twoHands(take, all(take));
  assert.deepEqual(pitches(take, hands.left).sort(), left.map(([, , pitch]) => pitch).sort());
  assert.deepEqual(pitches(take, hands.right).sort(), right.map(([, , pitch]) => pitch).sort());
});

test('no hand spans more than a tenth where it can be helped (common practice)', () => {
  const chord = [40, 47, 56, 64, 71];
  const take = takeOf([
    trackOf(
      Array.from({ length: 8 }, (_, i) => chord.map((pitch): NoteSpec => [i * 960, 900, pitch])).flat(),
    ),
  ]);
  const { left, right } = twoHands(take, all(take));
  const span = (notes: readonly number[]) =>
    Math.max(...pitches(take, notes)) - Math.min(...pitches(take, notes));
  assert.ok(span(left) <= 16 && span(right) <= 16);
});

test('a bass under chords under a tune: three parts, each with its notes', () => {
  const bass = [36, 41, 43, 36].map((pitch, bar): NoteSpec => [bar * 1920, 1800, pitch]);
  const chords = [55, 53, 55, 52].flatMap((root, bar) =>
    [0, 960].flatMap((beat) => [0, 4, 7].map((up): NoteSpec => [bar * 1920 + beat, 800, root + up])),
  );
  const tune = Array.from({ length: 16 }, (_, i): NoteSpec => [i * 480, 440, 76 + [0, 2, 3, 5][i % 4]!]);
  const take = takeOf([trackOf([...bass, ...chords, ...tune])]);
  const voices = bassChordsTop(take, all(take));
  assert.deepEqual(
    pitches(take, voices.bass),
    bass.map(([, , pitch]) => pitch),
  );
  assert.deepEqual(
    pitches(take, voices.top),
    tune.map(([, , pitch]) => pitch),
  );
  assert.equal(voices.chords.length, chords.length);
});

test('a point that may move parts every note one way or the other, whatever it costs', () => {
  const note = fc.tuple(fc.nat(4000), fc.integer({ min: 1, max: 900 }), fc.nat(127));
  fc.assert(
    fc.property(fc.array(note, { minLength: 1, maxLength: 60 }), fc.integer(), (list, salt) => {
      const take = takeOf([trackOf(list)]);
      const cost = (below: readonly number[], above: readonly number[]) =>
        Math.abs((below.length * 7 + above.length * salt) % 11);
      const { below, above, points } = splitAtMovingPoint(take, all(take), cost);
      assert.deepEqual(
        [...below, ...above].sort((a, b) => a - b),
        all(take),
      );
      assert.ok(
        points.every(({ pitch }, i) => i === 0 || points[i - 1]!.tick < points[i]!.tick || pitch >= 0),
      );
    }),
  );
});

const divisions: Division[] = [
  { by: 'pitch', at: 60 },
  { by: 'hands' },
  { by: 'voices' },
  { by: 'pieces' },
  { by: 'channel' },
  { by: 'program' },
  { by: 'velocity', at: 80 },
  { by: 'length', at: 0.5 },
];

test('whatever a part is divided by, every note is in one group, and the move makes them parts', () => {
  const note = fc.tuple(
    fc.nat(8000),
    fc.integer({ min: 1, max: 900 }),
    fc.nat(127),
    fc.integer({ min: 1, max: 127 }),
  );
  fc.assert(
    fc.property(
      fc.array(note, { minLength: 1, maxLength: 50 }),
      fc.constantFrom(...divisions),
      (list, division) => {
        const take = takeOf([trackOf(list)]);
        const split = splitTake(take);
        const groups = groupsOf(take, split, 'p1', division);
        assert.deepEqual(
          groups.flatMap(({ notes }) => notes).sort((a, b) => a - b),
          all(take),
        );
        const move = divisionMove(take, split, 'p1', division);
        assert.equal(move === null, groups.length < 2);
        if (!move) return;
        const after = applyMoves(split, take.notes, [move]);
        assert.deepEqual(
          tallyOf(after).parts,
          groups.map(({ notes }) => notes.length),
        );
        assert.deepEqual(
          after.parts.map(({ name }) => name),
          groups.map(({ name }) => name),
        );
      },
    ),
  );
});

test('channel and program come back as they were in force, after parts were merged', () => {
  const take = takeOf([
    trackOf(
      [
        [0, 100, 60, 90, 0],
        [480, 100, 62, 90, 1],
      ],
      [channelEvent(0, 0xc0, 0, 33), channelEvent(0, 0xc0, 1, 73)],
    ),
  ]);
  const merged = applyMoves(splitTake(take), take.notes, [{ move: 'merge', parts: ['p1', 'p2'] }]);
  const names = (by: 'channel' | 'program') => groupsOf(take, merged, 'p1', { by }).map(({ name }) => name);
  assert.deepEqual(names('channel'), [
    'Electric Bass (finger), channel 1',
    'Electric Bass (finger), channel 2',
  ]);
  assert.deepEqual(names('program'), ['Electric Bass (finger)', 'Flute']);
});

test('where one pitch sounds twice on one channel, each end goes to the length that others have', () => {
  const short = Array.from({ length: 8 }, (_, i): NoteSpec => [4000 + i * 480, 100, 70]);
  const long = Array.from({ length: 4 }, (_, i): NoteSpec => [4000 + i * 2000, 1800, 50]);
  // A held C with a struck one inside: first in, first out gives the held one the struck one's end.
  const take = takeOf([trackOf([...short, ...long, [0, 1800, 60], [480, 100, 60]])]);
  const at = all(take).filter((i) => take.notes.pitch[i] === 60);
  assert.deepEqual(
    at.map((i) => take.notes.duration[i]),
    [580, 1320],
  );
  const meant = meantLengths(take, all(take));
  assert.deepEqual(
    at.map((i) => meant.get(i)),
    [1800, 100],
  );
});

test('lengths as meant keep beginnings, ends and their number', () => {
  const note = fc.tuple(fc.nat(3000), fc.integer({ min: 1, max: 900 }), fc.integer({ min: 58, max: 61 }));
  fc.assert(
    fc.property(fc.array(note, { minLength: 1, maxLength: 40 }), (list) => {
      const take = takeOf([trackOf(list)]);
      const meant = meantLengths(take, all(take));
      const ends = (length: (i: number) => number) =>
        all(take)
          .map((i) => `${take.notes.pitch[i]} ${take.notes.tick[i]! + length(i)}`)
          .sort();
      assert.deepEqual(
        ends((i) => meant.get(i)!),
        ends((i) => take.notes.duration[i]!),
      );
    }),
  );
});

/** Four bars of kick, snare and hat. */
const groove = Array.from({ length: 4 }, (_, bar) => [
  ...[0, 960].map((at): NoteSpec => [bar * 1920 + at, 60, 36]),
  ...[480, 1440].map((at): NoteSpec => [bar * 1920 + at, 60, 38]),
  ...Array.from({ length: 8 }, (_, i): NoteSpec => [bar * 1920 + i * 240, 60, 42]),
]).flat();

test('a kit on one channel with a bass and chords is found by how it plays; alone it is no kit among others', () => {
  const bass = Array.from({ length: 8 }, (_, i): NoteSpec => [i * 960, 860, [33, 36, 38, 40][i >> 1]!]);
  const chords = Array.from({ length: 4 }, (_, bar) =>
    [57, 60, 64].map((pitch): NoteSpec => [bar * 1920, 1880, pitch + bar]),
  ).flat();
  const take = takeOf([trackOf([...groove, ...bass, ...chords])]);
  const kit = kitAmong(take, all(take));
  assert.equal(kit.length, groove.length);
  assert.deepEqual([...new Set(pitches(take, kit))].sort(), [36, 38, 42]);
  const rest = all(take).filter((i) => !kit.includes(i));
  assert.deepEqual(
    layersOf(take, rest).map(({ kind, notes }) => [kind, notes.length]),
    [
      ['held', chords.length],
      ['bass', bass.length],
    ],
  );
  const alone = takeOf([trackOf(groove)]);
  assert.deepEqual(kitAmong(alone, all(alone)), []);
});

test('a hand that was taken out is not taken apart again, whatever its role is said to be', () => {
  const notes = Array.from({ length: 16 }, (_, bar) => [
    ...[36, 43, 48].map((pitch): NoteSpec => [bar * 1920, 1800, pitch]),
    ...[67, 72, 76, 79].map((pitch, beat): NoteSpec => [bar * 1920 + beat * 480, 460, pitch]),
  ]).flat();
  const take = takeOf([trackOf(notes)]);
  const split = splitTake(take);
  const offersOf = (now: Split) =>
    offersFor(take, now).flatMap(({ kind, parts }) => (kind === 'hands' ? parts : []));
  const [offer] = offersFor(take, split).filter(({ kind }) => kind === 'hands');
  assert.ok(offer, 'two hands are offered');
  const apart = applyMoves(split, take.notes, [offer.ways[0]!.move]);
  const takenOut = apart.parts.filter(({ takenOutOf }) => takenOutOf === 'p1').map(({ id }) => id);
  assert.ok(takenOut.length > 0);
  const told = applyMoves(
    apart,
    take.notes,
    takenOut.map((part) => ({ move: 'role', part, role: 'keys' })),
  );
  assert.deepEqual(
    offersOf(told).filter((part) => takenOut.includes(part)),
    [],
  );
});
