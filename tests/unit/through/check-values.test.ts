import assert from 'node:assert/strict';
import { test } from 'node:test';
import { chordScale, scaleBits } from '../../../src/core/music/chord-scale.ts';
import { parseSymbol } from '../../../src/core/music/chord.ts';
import { MODE_STEPS, parseKey } from '../../../src/core/music/key.ts';
import { parseRecipe } from '../../../src/core/normalize/parse.ts';
import { applyRecipe } from '../../../src/core/normalize/recipe.ts';
import { throughOthers, type ThroughParams } from '../../../src/core/normalize/through.ts';
import type { Clip } from '../../../src/core/phrase/clip.ts';
import { voicesFor } from '../../../src/core/through/degrees.ts';
import { strummedShape } from '../../../src/core/through/strings.ts';
import { chooseVoicings, voiceMoves } from '../../../src/core/through/voicings.ts';
import { barOf } from '../../support/clips.ts';

/*
 * The worked values of the specification; where a handbook of harmony would say the same, it is common practice and written
 * from memory.
 */

const BAR = 1920;

/** A stroke a bar. */
function strokes(bars: readonly (readonly number[])[], more: Partial<Clip> = {}): Clip {
  const notes = bars.flatMap((pitches, bar) =>
    pitches.map((pitch) => [bar * BAR, BAR - 120, pitch] as const),
  );
  return barOf(notes, { key: parseKey('C')!, ...more, length: bars.length * BAR });
}

function through(clip: Clip, params: ThroughParams) {
  return throughOthers(clip, params);
}

/** Pitches bar by bar. */
function bars({ notes }: Clip): number[][] {
  const found: number[][] = [];
  for (const { tick, pitch } of notes) (found[Math.floor(tick / BAR)] ??= []).push(pitch);
  return found.map((pitches) => pitches.sort((a, b) => a - b));
}

test('C E G through C | Am | F | G voice by voice: the voices move 2, 1, 6 and 3 back', () => {
  const clip = strokes([[60, 64, 67]]);
  const result = through(clip, { from: 'C', to: 'C | Am | F | G', way: 'voices', loop: true });
  const chords = bars(result.clip);
  assert.deepEqual(chords, [
    [60, 64, 67],
    [60, 64, 69],
    [60, 65, 69],
    [59, 62, 67],
  ]);
  const moves = chords.map((chord, k) => voiceMoves(chord, chords[(k + 1) % 4]!));
  assert.deepEqual(moves, [2, 1, 6, 3]);
  assert.deepEqual(result.outside, []);
});

test('C E G as a block: 57 60 64, 65 69 72, 55 59 62', () => {
  const result = through(strokes([[60, 64, 67]]), { from: 'C', to: 'Am | F | G', way: 'block' });
  assert.deepEqual(bars(result.clip), [
    [57, 60, 64],
    [65, 69, 72],
    [55, 59, 62],
  ]);
});

test('D F A through Dm | Bb | Gm | A', () => {
  const clip = strokes([[62, 65, 69]], { key: parseKey('Dm')! });
  const result = through(clip, { from: 'Dm', to: 'Dm | Bb | Gm | A', way: 'voices' });
  assert.deepEqual(bars(result.clip), [
    [62, 65, 69],
    [62, 65, 70],
    [62, 67, 70],
    [61, 64, 69],
  ]);
});

test('C E G under Fm in C: 60 65 68, and a passing A of that bar becomes Ab', () => {
  const chord = [60, 64, 67].map((pitch) => [0, 480, pitch] as const);
  const clip = barOf([...chord, [480, 240, 67], [720, 240, 69], [960, 480, 71]], { key: parseKey('C')! });
  const { clip: result } = through(clip, { from: 'C', to: 'Fm', way: 'voices' });
  assert.deepEqual(
    result.notes.filter(({ tick }) => tick === 0).map(({ pitch }) => pitch),
    [60, 65, 68],
  );
  assert.equal(result.notes.find(({ tick }) => tick === 720)!.pitch % 12, 8);
});

test('C D E over C in the scale: F G A over F, A B C over Am, D E F over Dm', () => {
  const tune = [0, 1, 2, 3].flatMap((bar) =>
    [60, 62, 64].map((pitch, k) => [bar * BAR + k * 480, 400, pitch] as const),
  );
  const clip = barOf(tune, { key: parseKey('C')!, role: 'lead', length: 4 * BAR });
  const result = through(clip, { from: 'C', to: 'C | F | Am | Dm', way: 'scale' });
  assert.deepEqual(
    bars(result.clip).map((notes) => notes.map((pitch) => pitch % 12)),
    [
      [0, 2, 4],
      [5, 7, 9],
      [9, 11, 0],
      [2, 4, 5],
    ],
  );
});

test('a strummed E on six strings through A: five strings, onsets, spread and key switches to the tick', () => {
  const strum = [40, 47, 52, 56, 59, 64].map((pitch, k) => [k * 12, 900, pitch] as const);
  const clip = barOf([...strum, [0, 100, 24]], {
    key: parseKey('E')!,
    role: 'guitar',
    locked: [6],
  });
  const result = through(clip, { from: 'E', to: 'A' });
  const played = result.clip.notes.filter(({ origin }) => origin !== 6);
  assert.deepEqual(
    played.map(({ pitch }) => pitch),
    [45, 52, 57, 61, 64],
  );
  assert.deepEqual(
    played.map(({ tick, duration }) => [tick, duration]),
    strum.slice(1).map(([tick, duration]) => [tick, duration]),
  );
  assert.deepEqual(
    result.clip.notes.find(({ origin }) => origin === 6),
    clip.notes[6],
  );
  assert.deepEqual(result.setAside, [{ reason: 'no string for it in the shape', origins: [0] }]);
  assert.deepEqual(strummedShape(parseSymbol('E')!), [40, 47, 52, 56, 59, 64]);
});

test('Em/F: F in the bass, E G B above; Asus2 asked: A B E, no third', () => {
  const slash = through(strokes([[48, 60, 64, 67]]), { from: 'C', to: 'Em/F', way: 'voices' });
  const [lowest, ...above] = bars(slash.clip)[0]!;
  assert.equal(lowest! % 12, 5);
  assert.deepEqual(above.map((pitch) => pitch % 12).sort(), [11, 4, 7].sort());
  const suspended = through(strokes([[60, 64, 67]]), { from: 'C', to: 'Asus2', way: 'voices', key: 'A' });
  assert.deepEqual(
    bars(suspended.clip)[0]!
      .map((pitch) => pitch % 12)
      .sort((a, b) => a - b),
    [4, 9, 11],
  );
});

test('Fmaj9#11 in four upper voices: 3 7 9 #11, no 5, the root below', () => {
  const chord = parseSymbol('Fmaj9#11')!;
  const classes = (pitches: readonly number[]) => pitches.map((pitch) => pitch % 12).sort((a, b) => a - b);
  assert.deepEqual(classes(voicesFor(chord, 4, true)), [4, 7, 9, 11]);
  const five = strokes([[41, 60, 64, 67, 71]]);
  const { clip } = through(five, { from: 'Cmaj7/F', to: 'Fmaj9#11', way: 'voices' });
  const [lowest, ...above] = bars(clip)[0]!;
  assert.equal(lowest! % 12, 5);
  assert.deepEqual(classes(above), [4, 7, 9, 11]);
  assert.deepEqual(voicesFor(parseSymbol('C')!, 4, false), [4, 0, 7, 0], 'the root is doubled first');
  assert.deepEqual(voicesFor(parseSymbol('G13')!, 3, false), [11, 5, 4]);
});

test('the scale of a chord: the key, the parallel mode, the dominant to minor, lydian dominant, half-whole', () => {
  const inC = (symbol: string, key = 'C') =>
    Array.from({ length: 12 }, (_, pc) => pc).filter(
      (pc) => scaleBits(chordScale(parseSymbol(symbol)!, parseKey(key)!)) & (1 << pc),
    );
  const on = (root: number, steps: readonly number[]) =>
    steps.map((step) => (root + step) % 12).sort((a, b) => a - b);
  const { major, minor, mixolydian, lydian } = MODE_STEPS;
  assert.deepEqual(inC('Am'), on(0, major));
  for (const borrowed of ['Fm', 'Ab', 'Bb', 'Eb', 'Dm7b5'])
    assert.deepEqual(inC(borrowed), on(0, minor), borrowed);
  assert.deepEqual(inC('D7'), on(2, mixolydian));
  assert.deepEqual(inC('A7'), on(9, [0, 1, 4, 5, 7, 8, 10]), 'to D minor, with b9 and b13');
  assert.deepEqual(inC('E7'), on(4, [0, 1, 4, 5, 7, 8, 10]));
  assert.deepEqual(inC('Db7'), on(1, [0, 2, 4, 6, 7, 9, 10]));
  assert.deepEqual(inC('Bb7'), on(10, [0, 2, 4, 6, 7, 9, 10]));
  assert.deepEqual(inC('Bdim7'), on(7, [0, 1, 3, 4, 6, 7, 9, 10]), 'half-whole on G');
  assert.deepEqual(inC('Fmaj9#11'), on(5, lydian));
  assert.deepEqual(inC('E7', 'Am'), on(9, [0, 2, 3, 5, 7, 8, 11]), 'harmonic minor');
});

test('voices led by dynamic programming cost what brute force finds (Tymoczko 2006 for the measure)', () => {
  const source = [60, 64, 67];
  const chords = [
    { source, classes: [0, 4, 7], fixed: source },
    { source, classes: [9, 0, 4] },
    { source, classes: [2, 5, 9] },
    { source, classes: [7, 11, 2] },
  ];
  const chosen = chooseVoicings(chords, undefined, true);
  const total = (voicings: readonly (readonly number[])[]) =>
    voicings.reduce(
      (sum, voicing, k) =>
        sum +
        voiceMoves(voicing, voicings[(k + 1) % voicings.length]!) +
        0.1 * Math.abs(voicing.reduce((a, b) => a + b, 0) / 3 - 191 / 3),
      0,
    );
  const inversions = (classes: readonly number[]) =>
    [-12, 0, 12].flatMap((octave) =>
      classes.map((_, first) => {
        const lowest = 60 + octave + classes[first]!;
        return [0, 1, 2]
          .map((k) => lowest + ((classes[(first + k) % 3]! - classes[first]! + 12) % 12))
          .sort((a, b) => a - b);
      }),
    );
  let least = Infinity;
  for (const a of inversions([9, 0, 4]))
    for (const b of inversions([2, 5, 9]))
      for (const c of inversions([7, 11, 2])) least = Math.min(least, total([source, a, b, c]));
  assert.ok(total(chosen) <= least + 1e-9, `${total(chosen)} against ${least}`);
});

test('what cannot be read is refused with its place; what has no pitches passes as it is', () => {
  const step = (to: string) => parseRecipe({ version: 1, steps: [{ step: 'through', from: 'C', to }] });
  assert.throws(() => step('C | Xyz'), /through.*Bar 2: "Xyz" is not a chord symbol/);
  assert.throws(() => step(''), /through/);
  assert.throws(
    () => step(Array.from({ length: 513 }, () => 'C').join(' | ')),
    /513 bars, and 512 are the most/,
  );
  const drums = strokes([[36], [38]], { role: 'drums', key: null });
  const result = through(drums, { from: 'C', to: 'F | G' });
  assert.deepEqual(result.clip.notes, drums.notes);
  assert.match(result.summary, /drums have no chords to follow/);
});

test('a push belongs to the chord that comes; a held pad is struck again where its pitch is in no chord that follows', () => {
  const pushed = barOf(
    [
      [0, 1500, 67],
      [1800, 1000, 67],
    ],
    { key: parseKey('C')!, role: 'keys', length: 2 * BAR },
  );
  const result = through(pushed, { from: 'C', to: 'C | Am', way: 'block' });
  assert.deepEqual(
    result.clip.notes.map(({ tick, pitch }) => [tick, pitch]),
    [
      [0, 67],
      [1800, 64],
    ],
  );
  const held = barOf(
    [60, 64, 67].map((pitch) => [0, 2 * BAR, pitch] as const),
    {
      key: parseKey('C')!,
      role: 'pad',
      length: 2 * BAR,
    },
  );
  const pad = through(held, { from: 'C', to: 'C | Am' });
  assert.deepEqual(
    pad.clip.notes.map(({ tick, duration, pitch }) => [tick, duration, pitch]),
    [
      [0, 2 * BAR, 60],
      [0, 2 * BAR, 64],
      [0, BAR, 67],
      [BAR, BAR, 69],
    ],
  );
  assert.ok(pad.clip.notes[3]!.origin < 0, 'nobody struck it');
});

test('a bass: the root first, degrees after it, and what leads in aims at the new root', () => {
  const walk = [36, 40, 43, 47].map((pitch, k) => [k * 480, 460, pitch] as const);
  const clip = barOf([...walk, ...walk.map(([tick, long, pitch]) => [tick + BAR, long, pitch] as const)], {
    key: parseKey('C')!,
    role: 'bass',
    length: 2 * BAR,
  });
  const { clip: result } = through(clip, { from: 'C', to: 'C | F' });
  assert.deepEqual(
    result.notes.slice(0, 4).map(({ pitch }) => pitch % 12),
    [0, 4, 7, 4],
    'the B led a semitone up to C, and leads to F from E',
  );
  assert.deepEqual(
    result.notes.slice(4, 7).map(({ pitch }) => pitch % 12),
    [5, 9, 0],
  );
  for (const { pitch } of result.notes) assert.ok(pitch >= 28 && pitch <= 55, String(pitch));
});

test('changes that nothing strikes are told, and struck where that is asked', () => {
  const clip = barOf(
    [
      [0, 200, 60],
      [0, 200, 64],
      [0, 200, 67],
    ],
    { key: parseKey('C')!, role: 'keys' },
  );
  const told = through(clip, { from: 'C', to: 'C F', way: 'voices' });
  assert.deepEqual(told.unheard, [{ tick: 960, symbol: 'F' }]);
  assert.equal(told.clip.notes.length, 3);
  const struck = through(clip, { from: 'C', to: 'C F', way: 'voices', strike: true });
  assert.deepEqual(struck.unheard, []);
  const added = struck.clip.notes.filter(({ tick }) => tick === 960);
  assert.deepEqual(
    added.map(({ pitch, velocity }) => [pitch, velocity]),
    [
      [60, 90],
      [65, 90],
      [69, 90],
    ],
  );
});

test('outside notes are told with what they were, and put right one by one', () => {
  const clip = barOf(
    [
      [0, 400, 60],
      [480, 400, 61],
      [960, 800, 72],
    ],
    { key: parseKey('C')!, role: 'keys' },
  );
  const { outside } = through(clip, { from: 'C', to: 'F', way: 'block' });
  assert.deepEqual(
    outside!.map(({ tick, cause, was }) => [tick, cause, was]),
    [[480, 'foreign', 'free']],
  );
  const put = through(clip, { from: 'C', to: 'F', way: 'block', mend: [{ note: 1, way: 'up' }] });
  assert.deepEqual(put.outside, []);
  assert.equal(put.clip.notes[1]!.pitch % 12, 9);
  const out = applyRecipe(clip, {
    version: 1,
    steps: [{ step: 'through', from: 'C', to: 'F', way: 'block', mend: [{ note: 1, way: 'out' }] }],
  });
  assert.deepEqual(out.setAside, [{ reason: 'left out as outside', origins: [1] }]);
});

test('a triad on three strings is led like other voices: one voicing a chord, whichever way it is strummed (common practice)', () => {
  const strum = (beat: number, pitches: readonly number[]) =>
    pitches.map((pitch, k) => [beat * 480 + 12 * k, 200, pitch] as const);
  // Down, up, and with two of its strings changed about.
  const clip = barOf([...strum(0, [48, 52, 57]), ...strum(1, [57, 52, 48]), ...strum(2, [57, 48, 52])], {
    role: 'guitar',
    key: parseKey('Am')!,
  });
  const { clip: result } = through(clip, { from: 'Am', to: 'Eb' });
  const voicings = [0, 1, 2].map((beat) =>
    result.notes
      .filter(({ tick }) => Math.floor(tick / 480) === beat)
      .map(({ pitch }) => pitch)
      .sort((a, b) => a - b),
  );
  assert.deepEqual(voicings[1], voicings[0]);
  assert.deepEqual(voicings[2], voicings[0]);
  assert.deepEqual(new Set(voicings[0]!.map((pitch) => pitch % 12)), new Set([3, 7, 10]));
});

test('a loosely struck chord before a change is of one chord, though one voice is late', () => {
  const late = (beat: number, pitches: readonly number[]) =>
    pitches.map((pitch, k) => [Math.round(beat * 480) + 22 * k, 700, pitch] as const);
  const clip = barOf([...late(0, [60, 64, 67]), ...late(3.44, [64, 60, 67])], {
    key: parseKey('C')!,
    length: 2 * BAR,
  });
  const { clip: result } = through(clip, { from: 'C', to: 'Dm | G' });
  const last = result.notes.filter(({ tick }) => tick > 1600).map(({ pitch }) => pitch % 12);
  assert.deepEqual(new Set(last), new Set([2, 5, 9]));
});

test('a bass: what is of the scale leads in by the scale, a chord note keeps its degree, a chromatic step stays one (common practice)', () => {
  const line = (notes: readonly (readonly [number, number])[]) =>
    barOf(
      notes.map(([beat, pitch]) => [beat * 480, 400, pitch] as const),
      { role: 'bass', key: parseKey('C')!, length: 2 * BAR },
    );
  const lead = (approach: number, to: string, key: string) => {
    const clip = line([
      [0, 36],
      [3, approach],
      [4, 33],
    ]);
    return through(clip, { from: 'C | Am', to, key }).clip.notes[1]!.pitch % 12;
  };
  // G before A is the fifth of C, and E the fifth of Am: no E flat before F.
  assert.equal(lead(43, 'Am | F', 'Am'), 4);
  // B before A is a step down of the scale: to E it is F, and no F sharp.
  assert.equal(lead(35, 'C | E', 'Am'), 5);
  // B flat before A is a semitone above: F before E.
  assert.equal(lead(34, 'C | E', 'Am'), 5);
});
