import assert from 'node:assert/strict';
import { test } from 'node:test';
import { edgedTakes, scoreEdges } from '../../../bench/accuracy/edges.ts';
import { loopedParts, scoreLoops } from '../../../bench/accuracy/loops.ts';
import { scoreSections, sectionedTakes } from '../../../bench/accuracy/sections.ts';
import { analyzeTake } from '../../../src/core/analyze/analysis.ts';
import { changesIn, numeralLine } from '../../../src/core/analyze/changes.ts';
import { featuresOf, placeLevel } from '../../../src/core/analyze/features.ts';
import { divisionsOf } from '../../../src/core/music/meters.ts';
import { latenessOf } from '../../../src/core/analyze/feel.ts';
import { findFills, purposeOfBars } from '../../../src/core/analyze/purposes.ts';
import { countProgressions } from '../../../src/core/analyze/progressions.ts';
import { seamOf, seamWords } from '../../../src/core/analyze/seam.ts';
import { findSections } from '../../../src/core/analyze/sections.ts';
import { takeFrom, type Take } from '../../../src/core/capture/take.ts';
import { channelEvent, metaEvent, STATUS } from '../../../src/core/midi/smf.ts';
import { changesClip } from '../../../src/core/reuse/changes-clip.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import { tailKind } from '../../../src/core/analyze/tail-kind.ts';
import { bandFile } from '../../../src/core/standins/band.ts';
import { addedBars } from '../../../src/core/standins/mishaps.ts';
import { performanceFile } from '../../../src/core/standins/performance.ts';
import { standInById } from '../../../src/core/standins/stand-ins.ts';
import { takeOf, trackOf, type NoteSpec } from '../../support/midi.ts';

const all = (take: Take) => [...take.notes.tick.keys()];
const band = (chart: string) =>
  takeFrom(bandFile({ chart, style: 'river', bpm: 96, seed: 4, title: 'x', mishaps: [], looseness: 4 }));

test('leading silence, count-in, pickup and tail of made takes are told apart', () => {
  const scores = scoreEdges(edgedTakes(42, 11_000));
  const right = scores.reduce((sum, { right: one }) => sum + one, 0);
  assert.ok(right >= 39, `${right} of 42: ${scores.flatMap(({ wrong }) => wrong).join('; ')}`);
});

test('loops of made parts: blocks that move, loops in loops, and what is varied', () => {
  const scores = scoreLoops(loopedParts(70, 50_000));
  const right = scores.reduce((sum, { right: one }) => sum + one, 0);
  assert.ok(
    right >= 67,
    `${right} of 70: ${scores.flatMap(({ kind, wrong }) => wrong.map((w) => `${kind} ${w}`)).join('; ')}`,
  );
});

test('sections of made forms begin where they were made to, and come back under their names', () => {
  const { boundaries, bars } = scoreSections(sectionedTakes(18, 4000));
  assert.ok(boundaries >= 0.85 && bars >= 0.9, `${boundaries} ${bars}`);
});

test('another tune of the same notes is another section; the same tune again is the same', () => {
  const verse = [60, 62, 64, 65, 67, 69, 71, 72];
  const bridge = [54, 56, 58, 61, 63, 66, 68, 70];
  const form = (last: readonly number[]) => {
    const bars = [verse, bridge, last].flatMap((tune) => Array.from({ length: 8 }, () => tune));
    const notes = bars.flatMap((tune, bar) =>
      tune.map((pitch, k): NoteSpec => [bar * 1920 + k * 240, 200, pitch]),
    );
    const take = takeOf([trackOf(notes)]);
    return findSections(take, splitTake(take)).map(({ label }) => label);
  };
  assert.deepEqual(form(verse), ['A', 'B', 'A']);
  assert.deepEqual(form([...verse].reverse()), ['A', 'B', 'C']);
});

test('what comes again in all parts is divided as it was the first time', () => {
  // Nineteen bars, the last eight of them from an odd bar on: four and eight are of no help where they come again.
  const played = (tune: readonly number[], bars: number) =>
    Array.from({ length: bars }, (_, k) => tune.map((pitch) => pitch + (k % 2) * 12 - (k % 4 === 3 ? 5 : 0)));
  const once = [
    ...played([60, 62, 64, 65, 67, 69, 71, 72], 8),
    ...played([59, 60, 63, 65, 68, 71, 72, 75], 3),
    ...played([54, 56, 58, 61, 63, 66, 68, 70], 8),
  ];
  const notes = [...once, ...once].flatMap((pitches, bar) =>
    pitches.map((pitch, k): NoteSpec => [bar * 1920 + k * 240, 200, pitch]),
  );
  const take = takeOf([trackOf(notes)]);
  assert.deepEqual(
    findSections(take, splitTake(take)).map(({ startBar, label }) => [startBar, label]),
    [
      [1, 'A'],
      [9, 'B'],
      [20, 'A'],
      [28, 'B'],
    ],
  );
});

test('a form that is gone through again and again is told whole, whatever is played over it; a vamp is none', () => {
  const formOf = (chart: string) => {
    const take = band(chart);
    return analyzeTake(take, splitTake(take)).form;
  };
  // The twelve-bar blues and the thirty-two bars of a song, AABA (common practice).
  const blues = 'F7 | Bb7 | F7 | F7 | Bb7 | Bb7 | F7 | D7 | Gm7 | C7 | F7 | C7';
  assert.deepEqual(formOf([blues, blues, blues].join(' | ')), { startBar: 1, bars: 12, times: 3 });
  const a = 'C | Am | Dm | G7 | C | Am | Dm | G7';
  const song = [a, a, 'Em | Em | A7 | A7 | Dm | Dm | G7 | G7', a].join(' | ');
  assert.deepEqual(formOf([song, song].join(' | ')), { startBar: 1, bars: 32, times: 2 });
  assert.equal(formOf(Array(8).fill('C | Am | F | G').join(' | ')), null);
});

test('markers of the file are its sections', () => {
  const bars = Array.from({ length: 16 }, (_, bar): NoteSpec => [bar * 1920, 1800, 48 + (bar % 4)]);
  const marker = (bar: number, text: string) =>
    metaEvent((bar - 1) * 1920, 0x06, new TextEncoder().encode(text));
  const take = takeOf([trackOf(bars, [marker(1, 'Verse'), marker(9, 'Bridge')])]);
  assert.deepEqual(findSections(take, splitTake(take)), [
    { startBar: 1, bars: 8, label: 'Verse' },
    { startBar: 9, bars: 8, label: 'Bridge' },
  ]);
});

test('fills are the bars in which the drums lead on', () => {
  const take = band('Dm | C | Bb | A7 | Dm | C | Bb | A7 | Dm | C | Bb | A7');
  assert.deepEqual(findFills(take, splitTake(take), []), [4, 8, 12]);
});

test('how strong places of a bar are (Longuet-Higgins & Lee 1984, by hand)', () => {
  const levels = (meter: { numerator: number; denominator: number }) => {
    const divisions = divisionsOf(meter);
    const steps = divisions.reduce((product, by) => product * by, 1);
    return Array.from({ length: steps }, (_, place) => placeLevel(place, divisions)).join(' ');
  };
  assert.equal(levels({ numerator: 4, denominator: 4 }), '0 -4 -3 -4 -2 -4 -3 -4 -1 -4 -3 -4 -2 -4 -3 -4');
  assert.equal(levels({ numerator: 3, denominator: 4 }), '0 -3 -2 -3 -1 -3 -2 -3 -1 -3 -2 -3');
  assert.equal(levels({ numerator: 6, denominator: 8 }), '0 -3 -2 -3 -2 -3 -1 -3 -2 -3 -2 -3');
});

test('density, range, how many sound together, and syncopation', () => {
  const beats = takeOf([trackOf(Array.from({ length: 16 }, (_, i): NoteSpec => [i * 480, 240, 40 + i]))]);
  assert.deepEqual(featuresOf(beats, all(beats)), {
    density: 4,
    low: 40,
    high: 55,
    polyphony: 1,
    mostTogether: 1,
    syncopation: 0,
  });
  const offbeats = takeOf([
    trackOf(Array.from({ length: 16 }, (_, i): NoteSpec => [240 + i * 480, 240, 60])),
  ]);
  assert.ok(featuresOf(offbeats, all(offbeats))!.syncopation > 0.3);
  const chords = takeOf([trackOf([48, 52, 55].map((pitch): NoteSpec => [0, 960, pitch]))]);
  assert.deepEqual(
    [featuresOf(chords, all(chords))!.polyphony, featuresOf(chords, all(chords))!.mostTogether],
    [3, 3],
  );
  assert.equal(featuresOf(chords, []), null);
});

test('a part that plays late against the others is told in milliseconds', () => {
  // 12 ticks at 120 BPM and 480 ticks a quarter are 12.5 ms.
  const other = Array.from({ length: 16 }, (_, i): NoteSpec => [i * 480, 200, 60, 90, 0]);
  const late = Array.from({ length: 16 }, (_, i): NoteSpec => [i * 480 + 12, 200, 72, 90, 1]);
  const take = takeOf([trackOf(other), trackOf(late)]);
  const [one, two] = [
    all(take).filter((i) => take.notes.channel[i] === 0),
    all(take).filter((i) => take.notes.channel[i] === 1),
  ];
  assert.deepEqual(latenessOf(take, two, one), { ms: 12.5, strokes: 16 });
  assert.deepEqual(latenessOf(take, one, two), { ms: -12.5, strokes: 16 });
  assert.equal(latenessOf(take, two, []), null);
});

test('the seam tells what would be heard where a loop goes back', () => {
  const take = takeOf([
    trackOf(
      [[0, 400, 60], [1400, 2000, 62], [3600, 300, 64], [3840, 400, 60]], // prettier-ignore
      [
        channelEvent(0, STATUS.controller, 0, 1, 20),
        channelEvent(1000, STATUS.controller, 0, 64, 127),
        channelEvent(1200, STATUS.controller, 0, 1, 90),
        channelEvent(1500, STATUS.pitchBend, 0, 0, 100),
      ],
    ),
  ]);
  const [part] = splitTake(take).parts;
  const seam = seamOf(take, part!, all(take), { startBar: 1, bars: 1 });
  assert.equal(seam.crossing, 1);
  assert.ok(seam.pedalDown);
  assert.deepEqual(seamWords(seam).slice(0, 2), ['1 note over the end', 'pedal down at the end']);
  assert.equal(seamOf(take, part!, all(take), { startBar: 3, bars: 1 }).pickup, 1);
});

test('the changes of some bars, cut at their edges, with numerals; and as they can be heard', () => {
  const take = band('Dm | Gm A7 | Dm | Dm');
  const { chords, keys } = analyzeTake(take, splitTake(take));
  const changes = changesIn(take, chords, keys[0]!, { startBar: 2, bars: 2 });
  assert.deepEqual(
    changes.map(({ beat, beats, symbol, numeral }) => [beat, beats, symbol.split('/')[0], numeral]),
    [
      [0, 2, 'Gm', 'iv'],
      [2, 2, 'A7', 'V7'],
      [4, 4, 'Dm', 'i'],
    ],
  );
  assert.equal(numeralLine(changes), ' iv V7 i ');
  assert.equal(numeralLine([]), '');
  const clip = changesClip({
    chords: changes,
    bars: 2,
    bpm: 96,
    meter: { numerator: 4, denominator: 4 },
    key: keys[0]!,
  });
  assert.equal(clip.length, 2 * 4 * 960);
  assert.equal(clip.notes.length, 4 + 5 + 4);
  assert.deepEqual(
    [...new Set(clip.notes.slice(0, 4).map(({ pitch }) => pitch % 12))].sort((a, b) => a - b),
    [2, 7, 10],
  );
});

test('progressions are counted by what they begin and end with and where they go', () => {
  const { starts, ends, moves } = countProgressions([
    { numerals: ' I IV V7 I ', count: 3 },
    { numerals: ' IV V7 I IV ', count: 2 },
    { numerals: '', count: 9 },
  ]);
  assert.deepEqual(starts, [{ what: 'I', count: 3 }, { what: 'IV', count: 2 }]); // prettier-ignore
  assert.deepEqual(ends, [{ what: 'I', count: 3 }, { what: 'IV', count: 2 }]); // prettier-ignore
  assert.deepEqual(moves[0], { what: 'I IV', count: 5 });
  assert.deepEqual(
    moves.find(({ what }) => what === 'V7 I'),
    { what: 'V7 I', count: 5 },
  );
});

test('what some bars are for: a fill, a turnaround, or what their section is', () => {
  const take = band('Dm | Gm | Bb | A7 | Dm | Gm | Bb | A7 | Dm | Dm | C | C | Dm | F | C | Dm');
  const found = analyzeTake(take, splitTake(take));
  const of = (start: number, count: number) => purposeOfBars(found, { start, count });
  assert.deepEqual(found.sections.map(({ startBar }) => startBar), [1, 9]); // prettier-ignore
  assert.equal(of(4, 1), 'fill');
  assert.equal(of(7, 2), 'turnaround');
  assert.equal(of(1, 8), found.sections[0]!.purpose);
  assert.equal(of(9, 4), found.sections[1]!.purpose);
});

test('the sections that a chart names are the sections of its take, added bars with the one before them', () => {
  const chart = 'verse: Dm | Bb | Gm | A7; refrain: F | C | Bb | A7; form: verse refrain verse';
  const band = standInById('band');
  const take = takeFrom(
    performanceFile(band.play({ ...band.defaults, chart, choruses: 1, seed: 2 }, ['tailBars'])),
  );
  const { sections } = analyzeTake(take, splitTake(take), { chart });
  assert.deepEqual(
    sections.map(({ label, startBar }) => [label, startBar]),
    [
      ['verse', 1],
      ['refrain', 5],
      ['verse', 9],
    ],
  );
  assert.equal(sections[0]!.bars, 4);
  assert.equal(sections[0]!.purpose, 'verse', 'as its name says');
  assert.ok(sections[2]!.bars >= 4, 'with the bars the device added');
});

test('endings that a device adds are told apart: the beginning again, a chord that rings, drums that close', () => {
  const kindOf = (id: string, seed: number, bars: number, settings: object = {}) => {
    const standIn = standInById(id);
    const take = takeFrom(
      performanceFile(standIn.play({ ...standIn.defaults, ...settings, seed }, ['tailBars'])),
    );
    return tailKind(take, splitTake(take), bars + 1, bars + addedBars(seed));
  };
  assert.equal(kindOf('arpeggiator', 2, 4), 'again');
  assert.equal(kindOf('arpeggiator', 6, 4), 'ring');
  assert.equal(kindOf('band', 3, 4, { choruses: 1 }), 'ring');
  assert.equal(kindOf('drum-player', 4, 8, { sections: 'groove 8' }), 'fill');
});
