import assert from 'node:assert/strict';
import { test } from 'node:test';
import { analyzeTake } from '../../../src/core/analyze/analysis.ts';
import { checkChart } from '../../../src/core/analyze/chart-check.ts';
import { findChords } from '../../../src/core/analyze/chords.ts';
import { chromaOf } from '../../../src/core/analyze/chroma.ts';
import { takeFrom, type Take } from '../../../src/core/capture/take.ts';
import { CHORD_QUALITIES } from '../../../src/core/music/chord-quality.ts';
import { chordHarte, chordNumeral, chordSymbol, chordTones } from '../../../src/core/music/chord.ts';
import { keyName, parseKey } from '../../../src/core/music/key.ts';
import { spellPitchClass } from '../../../src/core/music/spelling.ts';
import { applyMoves } from '../../../src/core/split/moves.ts';
import { noteSet } from '../../../src/core/split/note-set.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import { bandFile } from '../../../src/core/standins/band.ts';
import { performanceFile, PPQ } from '../../../src/core/standins/performance.ts';
import { Chord } from 'tonal';
import { Note } from 'tonal';
import { soundedCharts } from '../../../bench/accuracy/charts.ts';
import { mirexScore, scoreCharts } from '../../../bench/accuracy/harmony.ts';
import { takeOf, trackOf, type NoteSpec } from '../../support/midi.ts';

const analyzed = (take: Take) => analyzeTake(take, splitTake(take));

/** A chart played by the band, and its chords in symbols, a bar or less each. */
function heardFrom(chart: string, bpm = 92) {
  const take = takeFrom(
    bandFile({ chart, style: 'river', bpm, seed: 9, title: 'x', mishaps: [], looseness: 8 }),
  );
  const analysis = analyzed(take);
  const [key] = analysis.keys;
  const symbols = analysis.chords.map(({ chord }) =>
    chord ? chordSymbol({ ...chord, bass: chord.root }, key!) : 'N.C.',
  );
  return { analysis, key: keyName(key!), symbols: symbols.join(' ') };
}

/** Historical grounds and common forms with their harmony, from memory. */
const GROUNDS: [name: string, chart: string, key: string][] = [
  ['the canon in D', 'D | A | Bm | F#m | G | D | G | A | D', 'D major'],
  ['romanesca', 'Bb | F | Gm | D | Bb | F | Gm D | Gm', 'G minor'],
  ['folia', 'Dm | A | Dm | C | F | C | Dm | A | Dm', 'D minor'],
  ['passamezzo antico', 'Gm | F | Gm | D | Bb | F | Gm D | Gm', 'G minor'],
  ['twelve-bar blues', 'C7 | F7 | C7 | C7 | F7 | F7 | C7 | C7 | G7 | F7 | C7 | C7', 'C mixolydian'],
  ['Andalusian cadence', 'Am | G | F | E | Am | G | F | E | Am', 'A minor'],
];

for (const [name, chart, key] of GROUNDS) {
  test(`${name} is heard as the books give it (from memory)`, () => {
    const heard = heardFrom(chart);
    // The same chord twice is one held over the bar line.
    const asked = chart
      .replace(/\|/g, ' ')
      .split(/\s+/)
      .filter((symbol, i, all) => symbol !== all[i - 1])
      .join(' ');
    assert.equal(heard.symbols, asked);
    if (name !== 'twelve-bar blues') assert.equal(heard.key, key);
    else assert.match(heard.key, /^C (mixolydian|major)$/);
  });
}

/**
 * The first prelude of the Well-Tempered Clavier I, bars 1 to 19, lowest note first, with the chords that harmony handbooks print
 * under it. Notes and chords from memory.
 */
const PRELUDE: [chord: string, notes: number[]][] = [
  ['C', [60, 64, 67, 72, 76]],
  ['Dm7', [60, 62, 69, 74, 77]],
  ['G7', [59, 62, 67, 74, 77]],
  ['C', [60, 64, 67, 72, 76]],
  ['Am', [60, 64, 69, 76, 81]],
  ['D7', [60, 62, 66, 69, 74]],
  ['G', [59, 62, 67, 74, 79]],
  ['Cmaj7', [59, 60, 64, 67, 72]],
  ['Am7', [57, 60, 64, 67, 72]],
  ['D7', [50, 57, 62, 66, 72]],
  ['G', [55, 59, 62, 67, 71]],
  ['C#dim7', [55, 58, 64, 67, 73]],
  ['Dm', [53, 57, 62, 69, 74]],
  ['Bdim7', [53, 56, 62, 65, 71]],
  ['C', [52, 55, 60, 67, 72]],
  ['Fmaj7', [52, 53, 57, 60, 65]],
  ['Dm7', [50, 53, 57, 60, 65]],
  ['G7', [43, 50, 55, 59, 65]],
  ['C', [48, 52, 55, 60, 64]],
];

test('the first prelude of the Well-Tempered Clavier I, bar by bar, as harmony handbooks print it (from memory)', () => {
  const notes = PRELUDE.flatMap(([, chord], bar) =>
    [0, 1].flatMap((half): NoteSpec[] => {
      const start = bar * 1920 + half * 960;
      // The lowest is held for a half, the next is tied on, the others go up twice.
      const [low, second, ...upper] = chord as [number, number, ...number[]];
      return [
        [start, 960, low],
        [start + 120, 840, second],
        ...[...upper, ...upper].map((pitch, i): NoteSpec => [start + 240 + i * 120, 120, pitch]),
      ];
    }),
  );
  const analysis = analyzed(takeOf([trackOf(notes)]));
  assert.equal(keyName(analysis.keys[0]!), 'C major');
  const heard = PRELUDE.map((_, bar) => {
    const chord = analysis.chords.findLast((one) => one.bar <= bar + 1)!.chord!;
    return chordSymbol({ ...chord, bass: chord.root }, analysis.keys[0]!);
  });
  // A diminished seventh has four names: the one of its bass is as right.
  const right = PRELUDE.filter(
    ([asked], bar) => heard[bar] === asked || (asked.endsWith('dim7') && heard[bar]!.endsWith('dim7')),
  );
  assert.ok(right.length >= 17, `${right.length} of 19: ${heard.join(' ')}`);
});

test('a bass under a tune alone is heard in the light of the chord that comes later in the bar; a riff without thirds stays one', () => {
  // Bass on one and three, the chord on two and four (common practice: oom-pah).
  const oompah = [
    [45, 57, 60, 64],
    [50, 57, 62, 65],
    [40, 56, 59, 64],
    [45, 57, 60, 64],
  ].flatMap(([bass, ...chord], bar) =>
    [0, 960].flatMap((at): NoteSpec[] => [
      [bar * 1920 + at, 460, bass!],
      ...chord.map((pitch): NoteSpec => [bar * 1920 + at + 480, 230, pitch]),
    ]),
  );
  const symbols = (take: Take) =>
    analyzed(take).chords.map(({ chord }) => chord && chordSymbol({ ...chord, bass: chord.root }, null));
  assert.deepEqual(symbols(takeOf([trackOf(oompah)])), ['Am', 'Dm', 'E', 'Am']);
  const riff = [40, 43, 45, 40].flatMap((root, bar) =>
    [0, 480, 960, 1440].flatMap((at): NoteSpec[] =>
      [root, root + 7, root + 12].map((pitch): NoteSpec => [bar * 1920 + at, 400, pitch]),
    ),
  );
  assert.deepEqual(symbols(takeOf([trackOf(riff)])), ['E5', 'G5', 'A5', 'E5']);
});

/** Parts of one performance; notes as ticks of 480 a quarter, lengths and pitches. */
const performed = (parts: readonly { program: number; notes: readonly NoteSpec[] }[]) =>
  takeFrom(
    performanceFile({
      title: 'x',
      bpm: 100,
      meter: { numerator: 4, denominator: 4 },
      bars: 8,
      input: null,
      parts: parts.map(({ program, notes }, channel) => ({
        name: `Part ${channel + 1}`,
        channel,
        program,
        notes: notes.map(([tick, length, pitch]) => ({
          tick: (tick * PPQ) / 480,
          length: (length * PPQ) / 480,
          pitch,
          velocity: 90,
        })),
      })),
    }),
  );

/** Held triads, a bar each. */
const TRIADS = [
  [57, 60, 64],
  [53, 57, 60],
  [55, 60, 64],
  [55, 59, 62],
];
const held = [...TRIADS, ...TRIADS].flatMap((chord, bar) =>
  chord.map((pitch): NoteSpec => [bar * 1920, 1900, pitch]),
);
const symbolsOf = (take: Take) =>
  analyzed(take).chords.map(({ chord }) => chord && chordSymbol({ ...chord, bass: chord.root }, null));
const AS_HELD = ['Am', 'F', 'C', 'G', 'Am', 'F', 'C', 'G'];

test('a tune by step is a tune on any instrument: its other notes make no other chords', () => {
  // Two of three of its notes are beside the chords.
  const scale = [69, 71, 74, 72, 71, 69, 71, 74];
  const tune = Array.from({ length: 64 }, (_, i): NoteSpec => [i * 240, 230, scale[i % 8]!]);
  const stabs = held.flatMap(([tick, , pitch]): NoteSpec[] => [
    [tick, 200, pitch],
    [tick + 960, 200, pitch],
  ]);
  for (const program of [0, 24, 40, 65, 80]) {
    const take = performed([
      { program: 4, notes: stabs },
      { program, notes: tune },
    ]);
    assert.deepEqual(symbolsOf(take), AS_HELD, `program ${program + 1}`);
  }
});

test('sound effects have no pitch that is meant (General MIDI, programs 121 to 128); a person may say that one has', () => {
  const noise = Array.from({ length: 128 }, (_, i): NoteSpec => [i * 120, 110, 48 + ((i * i * 5 + i) % 37)]);
  const take = performed([
    { program: 48, notes: held },
    { program: 120, notes: noise },
  ]);
  assert.deepEqual(symbolsOf(take), AS_HELD);
  const split = splitTake(take);
  assert.equal(split.parts[1]!.role, 'other');
  const said = applyMoves(split, take.notes, [{ move: 'weigh', part: split.parts[1]!.id, weight: 1 }]);
  assert.notDeepEqual(chromaOf(take, said).weights, chromaOf(take, split).weights);
});

test('every kind of chord has the notes that tonal gives it, and comes back from them', () => {
  const aliases: Record<string, string> = { '': 'M', 'maj9#11': 'maj9#11', add9: 'Madd9' };
  for (const quality of CHORD_QUALITIES) {
    const chord = Chord.get(`C${aliases[quality.symbol] ?? quality.symbol}`);
    assert.ok(!chord.empty, quality.symbol);
    assert.deepEqual(
      chordTones({ root: 0, quality }).sort((a, b) => a - b),
      chord.notes.map((note) => Note.chroma(note)).sort((a, b) => a - b),
      quality.symbol,
    );
    if (quality.symbol === '5') continue;
    const root = 7;
    const pitches = [31, ...chordTones({ root, quality }).map((pc) => 60 + pc)];
    const bars = Array.from({ length: 2 }, (_, bar) =>
      pitches.map((pitch): NoteSpec => [bar * 1920, 1900, pitch]),
    );
    const take = takeOf([trackOf(bars.flat())]);
    const [found] = findChords(chromaOf(take, splitTake(take)));
    assert.equal(chordSymbol(found!.chord!, null), `G${quality.symbol}`);
  }
});

test('symbols, Harte syntax and numerals are spelled by the key', () => {
  const quality = (symbol: string) => CHORD_QUALITIES.find((one) => one.symbol === symbol)!;
  const cases: [
    root: number,
    symbol: string,
    bass: number,
    key: string,
    written: string,
    harte: string,
    numeral: string,
  ][] = [
    [10, '', 10, 'Dm', 'Bb', 'Bb:maj', 'VI'],
    [10, '', 10, 'C', 'Bb', 'Bb:maj', 'bVII'],
    [6, 'm7b5', 6, 'Em', 'F#m7b5', 'F#:hdim7', 'iiø7'],
    [8, '', 8, 'Cm', 'Ab', 'Ab:maj', 'VI'],
    [8, 'dim7', 8, 'Am', 'G#dim7', 'G#:dim7', '#vii°7'],
    [4, '7', 8, 'Am', 'E7/G#', 'E:7/3', 'V7'],
    [5, '', 9, 'C', 'F/A', 'F:maj/3', 'IV'],
    [1, 'm', 1, 'A', 'C#m', 'C#:min', 'iii'],
    [6, '', 6, 'Bbm', 'Gb', 'Gb:maj', 'VI'],
    [6, 'sus4', 6, 'B', 'F#sus4', 'F#:sus4', 'Vsus4'],
  ];
  for (const [root, symbol, bass, key, written, harte, numeral] of cases) {
    const chord = { root, quality: quality(symbol), bass };
    const known = parseKey(key)!;
    assert.deepEqual(
      [chordSymbol(chord, known), chordHarte(chord, known), chordNumeral(chord, known)],
      [written, harte, numeral],
    );
  }
});

test('the notes of each key are spelled with one letter each (common practice)', () => {
  for (const key of [
    'C',
    'G',
    'D',
    'A',
    'E',
    'B',
    'F',
    'Bb',
    'Eb',
    'Ab',
    'Db',
    'Dm',
    'Gm',
    'Em',
    'F#m',
    'D dorian',
    'F lydian',
  ]) {
    const known = parseKey(key)!;
    const steps = {
      major: [0, 2, 4, 5, 7, 9, 11],
      minor: [0, 2, 3, 5, 7, 8, 10],
      dorian: [0, 2, 3, 5, 7, 9, 10],
      lydian: [0, 2, 4, 6, 7, 9, 11],
    };
    const letters = steps[known.mode as keyof typeof steps].map(
      (step) => spellPitchClass(known.tonic + step, known)[0],
    );
    assert.equal(new Set(letters).size, 7, `${key}: ${letters.join(' ')}`);
  }
});

test('key switches, drums and silence are no harmony', () => {
  const chord = [60, 64, 67].map((pitch): NoteSpec => [0, 1900, pitch]);
  const take = takeOf([trackOf([...chord, [0, 1900, 25], [5760, 480, 60]]), trackOf([[0, 60, 37, 90, 9]])]);
  const split = applyMoves(splitTake(take), take.notes, [
    { move: 'lock', part: 'p1', notes: noteSet([0]), on: true },
  ]);
  const [first] = findChords(chromaOf(take, split));
  assert.equal(chordSymbol(first!.chord!, null), 'C');
  const silent = takeOf([trackOf([[0, 60, 36, 90, 9]])]);
  assert.deepEqual(analyzed(silent).keys, []);
  assert.ok(analyzed(silent).chords.every(({ chord: none }) => none === null));
});

test('a chart is held against what sounded: bars too many, a bar that differs, several choruses', () => {
  const check = (played: string, asked: string) => {
    const { analysis } = heardFrom(played);
    return checkChart(asked, 4, analysis.chords, analysis.bars, analysis.keys[0]!);
  };
  const same = check('Dm | Gm | A7 | Dm', 'Dm | Gm | A7 | Dm');
  assert.ok(same.aligned.every(({ same: is }) => is));
  assert.deepEqual([same.addedBars, same.missingBars, same.choruses], [[], [], 1]);
  assert.deepEqual(check('Dm | Gm | A7 | Dm | Bb | C', 'Dm | Gm | A7 | Dm').addedBars, [5, 6]);
  assert.deepEqual(check('Dm | Gm | Dm', 'Dm | Gm | A7 | Dm').missingBars, [3]);
  const other = check('Dm | Bb | A7 | Dm', 'Dm | Gm | A7 | Dm').aligned;
  assert.deepEqual(
    other.filter(({ same: is }) => !is).map(({ bar, asked, sounded }) => [bar, asked, sounded]),
    [[2, 'Gm', 'Bb']],
  );
  assert.equal(check('Dm | A7 | Dm | A7 | Dm | A7', 'Dm | A7').choruses, 3);
});

test('MIREX scores keys as the task does (from memory): exact, fifth, relative, parallel', () => {
  const score = (found: string, made: string) => mirexScore(parseKey(found)!, parseKey(made)!);
  assert.deepEqual(
    [
      score('C', 'C'),
      score('G', 'C'),
      score('F', 'C'),
      score('Am', 'C'),
      score('C', 'Am'),
      score('Cm', 'C'),
      score('D', 'C'),
    ],
    [1, 0.5, 0.5, 0.3, 0.3, 0.2, 0],
  );
});

test('charts sounded by abc2midi: chords and keys as they were typed', () => {
  const goals = { plain: [0.99, 0.97, 0.99], hard: [0.95, 0.91, 0.99], rich: [0.9, 0.85, 0.9] } as const;
  for (const [set, [majorMinor, all, key]] of Object.entries(goals)) {
    const score = scoreCharts(soundedCharts(set as keyof typeof goals, 60));
    assert.ok(score.majorMinor >= majorMinor, `${set}, major and minor: ${score.majorMinor.toFixed(3)}`);
    assert.ok(score.all >= all, `${set}, all kinds: ${score.all.toFixed(3)}`);
    assert.ok(score.key >= key, `${set}, key: ${score.key.toFixed(3)}`);
  }
});
