import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import {
  changesOfLine,
  inversionsOf,
  layLine,
  lineChord,
  lineOfChanges,
  onBeats,
  writtenLine,
  type LineChord,
} from '../../../src/core/harmonize/line.ts';
import { countedMoves } from '../../../src/core/analyze/progressions.ts';
import { bassFor } from '../../../src/core/harmonize/bass.ts';
import { ownLines } from '../../../src/core/harmonize/own-lines.ts';
import { kicksOf, rhythmOfClip } from '../../../src/core/harmonize/rhythm-of.ts';
import { HELD, lineClip, type Playing } from '../../../src/core/harmonize/made-clips.ts';
import { chordTones, parseSymbol } from '../../../src/core/music/chord.ts';
import { parseKey } from '../../../src/core/music/key.ts';
import { pitchClass } from '../../../src/core/music/pitch.ts';
import { RHYTHMS, throughBars } from '../../../src/core/music/rhythm.ts';
import { readChanges, type Sounding } from '../../../src/core/through/sounding.ts';
import { voiceMoves } from '../../../src/core/through/voicings.ts';
import { barOf } from '../../support/clips.ts';

const C = parseKey('C')!;
const FOUR = { numerator: 4, denominator: 4 };
const setting = { key: C, bpm: 120, meter: FOUR };
const line = (text: string, beats = 4) =>
  onBeats(lineOfChanges(readChanges(text, beats), C)).map((one) => ({ ...one }));

const symbols = fc.constantFrom('C', 'Dm7', 'G7', 'Am', 'Fmaj7', 'E7', 'Bm7b5', 'Cadd9', 'C/E', 'F/G', '');
const anyLine = fc
  .array(
    fc.record({
      symbol: symbols,
      beats: fc.integer({ min: 1, max: 8 }),
      inversion: fc.constantFrom(null, 0, 1, 2),
      octave: fc.integer({ min: -1, max: 1 }),
    }),
    { minLength: 1, maxLength: 10 },
  )
  .filter((all) => all.some(({ symbol }) => symbol !== ''));

test('a line is written as a chart that reads back as the same chords on the same beats', () => {
  fc.assert(
    fc.property(anyLine, fc.constantFrom(3, 4, 5, 7), (chords, beatsPerBar) => {
      const written = writtenLine(chords, beatsPerBar);
      assert.equal(typeof written, 'string');
      const read = changesOfLine(chords, beatsPerBar);
      assert.ok(typeof read !== 'string');
      const total = chords.reduce((sum, { beats }) => sum + beats, 0);
      assert.equal(read.bars, Math.ceil(total / beatsPerBar));
      let beat = 0;
      for (const { symbol, beats } of chords) {
        const at = beat;
        const there: Sounding = read.chords.find((one) => one.beat <= at && at < one.beat + one.beats)!;
        const meant = symbol === '' ? null : parseSymbol(symbol)!;
        assert.deepEqual(
          there.chord && [there.chord.root, there.chord.bass],
          meant && [meant.root, meant.bass],
        );
        beat += beats;
      }
    }),
    { numRuns: 300 },
  );
});

test('three beats and one are written beat by beat; an empty line is told as such', () => {
  const chords = [lineChord('C', 3), lineChord('G7', 1), lineChord('Am', 4)];
  assert.equal(writtenLine(chords, 4), 'C C C G7 | Am');
  assert.match(changesOfLine([], 4) as string, /no chords yet/);
  assert.match(changesOfLine([lineChord('H', 4)], 4) as string, /H/);
});

test('every voicing has its chord notes alone, lies inside four octaves, and inversions have their own note below', () => {
  fc.assert(
    fc.property(anyLine, (chords) => {
      layLine(chords).forEach(({ pitches, move }, k) => {
        const { symbol, inversion, octave } = chords[k]!;
        if (symbol === '') return assert.deepEqual([pitches, move], [[], null]);
        const chord = parseSymbol(symbol)!;
        const tones = chordTones(chord).map((tone) => pitchClass(tone));
        for (const pitch of pitches) {
          assert.ok(tones.includes(pitchClass(pitch)) || pitchClass(pitch) === chord.bass);
          assert.ok(pitch - 12 * octave >= 40 && pitch - 12 * octave <= 88);
        }
        if (inversion !== null && !symbol.includes('/'))
          assert.equal(pitchClass(pitches[0]!), tones[inversion % inversionsOf(symbol)]);
        if (inversion === null && symbol.includes('/')) assert.equal(pitchClass(pitches[0]!), chord.bass);
      });
    }),
    { numRuns: 200 },
  );
});

test('least movement moves no more than any line of close positions (brute force over all inversions)', () => {
  for (const text of ['C | Am | F | G', 'Dm7 | G7 | Cmaj7 | A7', 'C | Fm | Bb7 | Eb']) {
    const chords = line(text);
    const total = (laid: LineChord[]) => {
      const pitches = layLine(laid).map((one) => one.pitches);
      return pitches.reduce((sum, now, k) => sum + voiceMoves(pitches.at(k - 1)!, now), 0);
    };
    const least = total(chords);
    const ways = chords.map(({ symbol }) => Array.from({ length: inversionsOf(symbol) }, (_, k) => k));
    const all = ways.reduce<number[][]>(
      (rows, own) => rows.flatMap((row) => own.map((k) => [...row, k])),
      [[]],
    );
    for (const row of all)
      assert.ok(
        // A tenth of a semitone a chord is what the middle of the keyboard may cost.
        least <= total(chords.map((one, k) => ({ ...one, inversion: row[k]! }))) + 2,
        `${text}: ${row.join()}`,
      );
  }
});

test('C in its inversions around the middle of the keyboard (handbook: root, first, second)', () => {
  const of = (inversion: number) => layLine([{ ...lineChord('C', 4), inversion }])[0]!.pitches;
  assert.deepEqual(of(0), [60, 64, 67]);
  assert.deepEqual(
    of(1),
    [52, 55, 60].map((pitch) => pitch + (of(1)[0]! > 60 ? 12 : 0)),
  );
  assert.deepEqual(
    of(2).map((pitch) => pitch % 12),
    [7, 0, 4],
  );
});

const onsets = (chords: LineChord[], playing: Playing, bars = 2) =>
  lineClip(chords, { ...setting, bars, playing }).notes;

test('a rhythm strikes where it says; a push is of the chord that comes; what is held over a change is struck again', () => {
  const chords = line('C | F');
  const pushed = { ...HELD, rhythm: { perBeat: 4, steps: 'X-------------x-' + 'X---------------' } };
  const times = (playing: Playing) => [...new Set(onsets(chords, playing).map(({ tick }) => tick / 960))];
  assert.deepEqual(times(pushed), [0, 3.5, 4]);
  const push = { ...HELD, rhythm: { perBeat: 4, steps: 'X-------------x-' + '--------x-------' } };
  assert.deepEqual(times(push), [0, 3.5, 6]);
  const ofF = new Set(layLine(chords)[1]!.pitches);
  const late = onsets(chords, push).filter(({ tick }) => tick === 3.5 * 960);
  assert.ok(late.length > 2 && late.every(({ pitch }) => ofF.has(pitch)));
  const held = { ...HELD, rhythm: { perBeat: 4, steps: 'X---------------' + '----------------' } };
  assert.deepEqual(times(held), [0, 4]);
  assert.deepEqual(times(HELD), [0, 4]);
});

test('a strum goes down from the lowest or up from the highest, over its milliseconds; the notes end together', () => {
  const down = onsets(line('C | F'), { ...HELD, strum: 'down', spread: 30 }).slice(0, 3);
  const pitches = down.map(({ pitch }) => pitch);
  assert.deepEqual(
    pitches,
    [...pitches].sort((a, b) => a - b),
  );
  // 30 ms at 120 BPM are 57.6 of 960 ticks.
  assert.equal(Math.round(down[2]!.tick - down[0]!.tick), 58);
  assert.equal(new Set(down.map(({ tick, duration }) => tick + duration)).size, 1);
  const up = onsets(line('C | F'), { ...HELD, strum: 'up', spread: 30 }).slice(0, 3);
  assert.ok(up[0]!.pitch > up[2]!.pitch);
});

test('rhythms of four quarters in bars of three and five are cut at the bar line or silent at its end', () => {
  for (const beatsPerBar of [3, 5]) {
    for (const steps of Object.values(RHYTHMS).filter((one) => one.length === 16)) {
      const strokes = throughBars({ perBeat: 4, steps }, { bars: 4, beatsPerBar, ownBeats: 4 });
      assert.ok(strokes.every(({ beat, beats }) => beat + beats <= 4 * beatsPerBar));
      assert.equal(strokes.length % 4, 0, 'each bar alike');
    }
  }
});

test('notes of any line in any rhythm stay within MIDI, in order, under the chord that sounds or comes', () => {
  fc.assert(
    fc.property(anyLine, fc.constantFrom(...Object.values(RHYTHMS)), (chords, steps) => {
      const bars = Math.ceil(chords.reduce((sum, { beats }) => sum + beats, 0) / 4);
      const clip = lineClip(chords, {
        ...setting,
        bars,
        playing: { ...HELD, rhythm: { perBeat: 4, steps } },
      });
      assert.equal(clip.length, bars * 3840);
      for (const note of clip.notes) {
        assert.ok(note.pitch >= 0 && note.pitch <= 127 && note.duration > 0 && note.origin < 0);
        assert.ok(note.tick + note.duration <= clip.length);
      }
    }),
    { numRuns: 100 },
  );
});

test('a rhythm taken from a phrase has its strokes, lengths and accents; played again it strikes where the phrase did', () => {
  const strokes: [number, number, number][] = [
    [0, 700, 60],
    [720, 230, 60],
    [1200, 700, 60],
  ];
  const bar = barOf(strokes);
  const accented = { ...bar, notes: bar.notes.map((note, k) => ({ ...note, velocity: k === 0 ? 110 : 70 })) };
  const rhythm = rhythmOfClip(accented);
  assert.deepEqual(rhythm, { perBeat: 4, steps: 'X-----x-..x-----' });
  const again = onsets(line('C | F'), { ...HELD, rhythm });
  assert.deepEqual(
    [...new Set(again.map(({ tick }) => tick / 2))].filter((tick) => tick < 1920),
    strokes.map(([tick]) => tick),
  );
});

test('every rhythm of the list comes back from chords played in it', () => {
  for (const [name, steps] of Object.entries(RHYTHMS)) {
    if (steps.length !== 16) continue;
    const clip = lineClip(line('C | C'), {
      ...setting,
      bars: 2,
      playing: { ...HELD, rhythm: { perBeat: 4, steps } },
    });
    const found = rhythmOfClip(clip).steps;
    assert.equal(found.replaceAll('X', 'x'), steps.replaceAll('X', 'x'), name);
  }
});

test('the kicks of a groove, in beats, gone round', () => {
  const groove = barOf(
    [
      [0, 60, 36],
      [480, 60, 38],
      [1200, 60, 36],
    ],
    { role: 'drums' },
  );
  assert.deepEqual(kicksOf(groove, 2), [0, 2.5, 4, 6.5]);
  assert.deepEqual(kicksOf({ ...groove, role: 'keys' }, 2), []);
  const bass = bassFor(readChanges('C | F', 4), {
    way: 'kick',
    key: C,
    beatsPerBar: 4,
    kicks: kicksOf(groove, 2),
  });
  assert.deepEqual(
    bass.map(({ beat }) => beat),
    [0, 2.5, 4, 6.5],
  );
});

test("the library's own lines in any key, the most used first; what the tray has not is left out", () => {
  const lines = [
    { numerals: ' ii7 V7 Imaj7 ', count: 2 },
    { numerals: ' I vi IV V ', count: 7 },
    { numerals: ' I bII13#11 ', count: 9 },
    { numerals: ' I ', count: 30 },
  ];
  const own = ownLines(lines, parseKey('Eb')!, 3);
  assert.deepEqual(
    own.map((one) => one.line.map(({ symbol }) => symbol).join(' ')),
    ['Eb Cm Ab Bb', 'Fm7 Bb7 Ebmaj7'],
  );
  assert.ok(own.every((one) => one.line.every(({ beats }) => beats === 3)));
  assert.deepEqual(countedMoves(lines).get('V7 Imaj7'), 2);
});
