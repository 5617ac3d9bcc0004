import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { parseMidi } from 'midi-file';
import createVerovioModule from 'verovio/wasm';
import { VerovioToolkit } from 'verovio/esm';
import { parseSymbol } from '../../../src/core/music/chord.ts';
import { parseKey } from '../../../src/core/music/key.ts';
import { makeTimeline, steadyTimeline } from '../../../src/core/music/timeline.ts';
import { folded, foldedBars } from '../../../src/core/notation/fold.ts';
import { fingered, writeMusicXml, type Score } from '../../../src/core/notation/musicxml.ts';
import { barUnits, QUARTER, readBars, signsOf } from '../../../src/core/notation/reading-rhythm.ts';
import { inVoices, togetherIn } from '../../../src/core/notation/voices.ts';
import type { ClipNote } from '../../../src/core/phrase/clip.ts';

/** A reader of MusicXML that is not ours: verovio (RISM, LGPL-3.0, npm). */
const verovio = new VerovioToolkit(await createVerovioModule());

/** What verovio plays of it: "quarter duration pitch" of each note, ties joined. */
function readBack(xml: string): string[] {
  assert.ok(verovio.loadData(xml), 'verovio cannot read it');
  const { header, tracks } = parseMidi(Buffer.from(verovio.renderToMIDI(), 'base64'));
  const notes: string[] = [];
  for (const track of tracks) {
    let tick = 0;
    const open = new Map<number, number>();
    for (const event of track) {
      tick += event.deltaTime;
      if (event.type === 'noteOn' && event.velocity > 0) open.set(event.noteNumber, tick);
      else if (event.type === 'noteOff' || event.type === 'noteOn') {
        const from = open.get(event.noteNumber)!;
        const unit = header.ticksPerBeat! / QUARTER;
        notes.push([Math.round(from / unit), Math.round((tick - from) / unit), event.noteNumber].join(' '));
      }
    }
  }
  return notes.sort();
}

const PPQ = 480;
const note = (from: number, units: number, pitch: number, origin: number): ClipNote => ({
  ...{
    tick: (from * PPQ) / QUARTER,
    duration: (units * PPQ) / QUARTER,
    pitch,
    velocity: 90,
    release: 64,
    origin,
  },
});

function scoreOf(
  notes: readonly ClipNote[],
  { bars = 4, meter = [4, 4] as [number, number], key = 'C' } = {},
): Score {
  const timeline = steadyTimeline(PPQ, 100, meter[0], meter[1]);
  const head = { key: parseKey(key)!, meter: { numerator: meter[0], denominator: meter[1] } };
  return {
    ...{ title: 'Crossing <1> & "2"', bpm: 100, repeats: [] },
    heads: Array.from({ length: bars }, () => head),
    staves: [{ name: 'Tune', clef: 'treble', bars: signsOf(notes, timeline, { pickup: 0, bars }) }],
    harmony: Array.from({ length: bars }, () => []),
  };
}

test('property: what verovio reads is what was written: onsets, lengths over ties and bar lines, pitches', () => {
  const meters = fc.constantFrom<[number, number]>([4, 4], [3, 4], [6, 8], [2, 4]);
  // Eighths and sixteenths, and now and then a beat in triplets.
  const step = fc.constantFrom(3, 6, 9, 12, 18, 24, 36);
  fc.assert(
    fc.property(
      meters,
      fc.array(fc.tuple(step, fc.integer({ min: 55, max: 84 })), { minLength: 1, maxLength: 30 }),
      (meter, steps) => {
        const { bar } = barUnits({ numerator: meter[0], denominator: meter[1] });
        let at = 0;
        const notes = steps.map(([units, pitch], k) => {
          const one = note(at, units, pitch, k);
          at += units;
          return one;
        });
        const bars = Math.ceil(at / bar);
        // Less than an eighth before the end is no rest for the eye.
        const left = bars * bar - at;
        const last = notes.at(-1)!;
        if (left < QUARTER / 2)
          notes[notes.length - 1] = { ...last, duration: last.duration + (left * PPQ) / QUARTER };
        const expected = notes.map(({ tick, duration, pitch }) =>
          [(tick * QUARTER) / PPQ, (duration * QUARTER) / PPQ, pitch].join(' '),
        );
        assert.deepEqual(readBack(writeMusicXml(scoreOf(notes, { bars, meter }))), expected.sort());
      },
    ),
    { numRuns: 60 },
  );
});

test('loose playing is written as it was meant: early and late strokes on their sixteenths, a triplet as one; nothing of the phrase moves', () => {
  const loose = [0.3, 2.6, 6.4, 8.7].map((at, k) => ({ ...note(at, 3, 60 + k, k), duration: 100 }));
  const straight = signsOf(loose, steadyTimeline(PPQ, 100), { pickup: 0, bars: 1 })[0]!;
  assert.deepEqual(
    straight.filter(({ pitches }) => pitches.length > 0).map(({ at }) => at),
    [0, 3, 6, 9],
  );
  const triplet = [0.2, 4.3, 7.9].map((at, k) => note(at, 4, 60 + k, k));
  const read = signsOf(triplet, steadyTimeline(PPQ, 100), { pickup: 0, bars: 1 })[0]!;
  assert.deepEqual(
    read.slice(0, 3).map(({ at, units }) => [at, units]),
    [
      [0, 4],
      [4, 4],
      [8, 4],
    ],
  );
});

test('property: the signs of every bar fill it, whatever was played', () => {
  const any = fc.record({
    tick: fc.nat(4 * 1920),
    duration: fc.integer({ min: 1, max: 3000 }),
    pitch: fc.integer({ min: 30, max: 90 }),
  });
  fc.assert(
    fc.property(fc.array(any, { maxLength: 40 }), (notes) => {
      const clip = notes
        .map((one, origin) => ({ ...one, velocity: 90, release: 64, origin }))
        .sort((a, b) => a.tick - b.tick);
      for (const bar of signsOf(clip, steadyTimeline(PPQ, 100), { pickup: 0, bars: 4 })) {
        assert.equal(
          bar.reduce((sum, { units }) => sum + units, 0),
          4 * QUARTER,
        );
        bar.reduce((at, sign) => {
          assert.equal(sign.at, at);
          return at + sign.units;
        }, 0);
      }
    }),
    { numRuns: 300 },
  );
});

test('spelling: F lydian has B natural and no flat in its signature; E flat major has B flat', () => {
  const b = (key: string, pitch: number) => writeMusicXml(scoreOf([note(0, 12, pitch, 0)], { key, bars: 1 }));
  assert.match(b('F lydian', 71), /<fifths>0<\/fifths>/);
  assert.match(b('F lydian', 71), /<step>B<\/step><octave>4/);
  assert.match(b('Eb', 70), /<fifths>-3<\/fifths>/);
  assert.match(b('Eb', 70), /<step>B<\/step><alter>-1<\/alter><octave>4/);
  // C flat over middle C is C4 as a letter; B sharp under it is B3.
  assert.match(b('Gb', 71), /<step>C<\/step><alter>-1<\/alter><octave>5/);
});

test('chords: root, kind and bass as MusicXML names them, where they begin; what it has no name for keeps its symbol', () => {
  const score = scoreOf([note(0, 48, 60, 0)], { bars: 1 });
  const chord = (symbol: string, at: number) => ({ at, symbol, chord: parseSymbol(symbol)! });
  const xml = writeMusicXml({ ...score, harmony: [[chord('F#m7b5/A', 0), chord('G7b9', 24)]] });
  assert.match(
    xml,
    /<root-step>F<\/root-step><root-alter>1<\/root-alter><\/root><kind text="m7b5">half-diminished<\/kind><bass><bass-step>A/,
  );
  assert.match(xml, /<root-step>G<\/root-step><\/root><kind text="7b9">other<\/kind><offset>24<\/offset>/);
  assert.equal(verovio.loadData(xml), 1);
});

test('tablature: open chords of the handbook as they are fingered (common practice)', () => {
  const strings = [40, 45, 50, 55, 59, 64];
  const frets = (pitches: number[]) =>
    fingered(pitches, strings).map((one) => one && `${one.string}:${one.fret}`);
  // E major, 0 2 2 1 0 0; C major without its lowest string, 3 2 0 1 0.
  assert.deepEqual(frets([40, 47, 52, 56, 59, 64]), ['6:0', '5:2', '4:2', '3:1', '2:0', '1:0']);
  assert.deepEqual(frets([48, 52, 55, 60, 64]), ['5:3', '4:2', '3:0', '2:1', '1:0']);
  // Lower than the lowest string there is none.
  assert.deepEqual(frets([30]), [null]);
});

test('a held note under a moving line has a voice of its own, and both sound as long as they were played', () => {
  const line = [0, 6, 12, 18, 24, 30, 36, 42].map((at, k) => note(at, 6, 72 + (k % 5), k));
  const held = [note(0, 48, 55, 20), note(48, 48, 57, 21)];
  const second = line.map((one, k) => ({ ...one, tick: one.tick + 4 * PPQ, origin: 30 + k }));
  const timeline = steadyTimeline(PPQ, 100);
  const voices = inVoices([...held, ...line, ...second], PPQ);
  const [upper, lower] = voices.map((voice) => signsOf(voice, timeline, { pickup: 0, bars: 2 }));
  const score = scoreOf([], { bars: 2 });
  const staves = [{ name: 'Keys', clef: 'treble' as const, ...togetherIn(upper!, lower!) }];
  const xml = writeMusicXml({ ...score, staves });
  const expected = [...line, ...held, ...second].map(({ tick, duration, pitch }) =>
    [(tick * QUARTER) / PPQ, (duration * QUARTER) / PPQ, pitch].join(' '),
  );
  assert.deepEqual(readBack(xml), expected.sort());
  assert.match(xml, /<voice>2<\/voice>/);
  const arpeggio = [0, 6, 12, 18].map((at, k) => note(at, 48 - at, 60 + 4 * k, k));
  assert.equal(inVoices(arpeggio, PPQ).length, 1, 'what rings on into all that follows is one voice');
});

test('property: no note is lost between two voices, and a staff never has a third', () => {
  fc.assert(
    fc.property(
      fc.array(
        fc.record({ at: fc.nat(90), units: fc.integer({ min: 1, max: 60 }), pitch: fc.integer({ min: 30, max: 90 }) }), // prettier-ignore
        { maxLength: 30 },
      ),
      (played) => {
        const notes = played.map(({ at, units, pitch }, k) => note(at, units, pitch, k));
        const voices = inVoices(notes, PPQ);
        assert.ok(voices.length <= 2);
        const origins = voices.flat().map(({ origin }) => origin);
        assert.deepEqual(
          origins.sort((a, b) => a - b),
          notes.map(({ origin }) => origin),
        );
      },
    ),
  );
});

test('keys and meters are said where they change, and every bar is as long as its own meter', () => {
  const timeline = makeTimeline(
    PPQ,
    [{ tick: 0, microseconds: 500_000 }],
    [
      { tick: 0, numerator: 4, denominator: 4 },
      { tick: 4 * PPQ, numerator: 3, denominator: 4 },
      { tick: 10 * PPQ, numerator: 6, denominator: 8 },
    ],
  );
  const notes = [note(0, 48, 60, 0), note(48, 36, 62, 1), note(84, 36, 64, 2), note(120, 36, 65, 3)];
  const bars = signsOf(notes, timeline, { pickup: 0, bars: 4 });
  assert.deepEqual(
    bars.map((signs) => signs.reduce((sum, { units }) => sum + units, 0)),
    [48, 36, 36, 36],
  );
  const heads = readBars(timeline, 0, 4).map(({ meter }, n) => ({
    meter,
    key: parseKey(n < 2 ? 'C' : 'D')!,
  }));
  const xml = writeMusicXml({
    ...{ title: 'Turns', bpm: 120, repeats: [], heads, harmony: heads.map(() => []) },
    staves: [{ name: 'Tune', clef: 'treble', bars }],
  });
  assert.deepEqual(xml.match(/<beats>\d<\/beats>/g), [
    '<beats>4</beats>',
    '<beats>3</beats>',
    '<beats>6</beats>',
  ]);
  assert.deepEqual(xml.match(/<fifths>\d<\/fifths>/g), ['<fifths>0</fifths>', '<fifths>2</fifths>']);
  const expected = notes.map(({ tick, duration, pitch }) =>
    [(tick * QUARTER) / PPQ, (duration * QUARTER) / PPQ, pitch].join(' '),
  );
  assert.deepEqual(readBack(xml), expected.sort());
});

test('what comes several times on end is written once, the shortest stretch that says it all', () => {
  const told = (text: string) => [...text];
  assert.deepEqual(foldedBars(told('abcdabcdabcdx')), {
    keep: [0, 1, 2, 3, 12],
    repeats: [{ from: 0, bars: 4, times: 3 }],
  });
  // Vamps of a bar or two are sooner read than gone back to, four of them are not.
  assert.deepEqual(foldedBars(told('aaaaaaaa')).repeats, [{ from: 0, bars: 4, times: 2 }]);
  assert.deepEqual(foldedBars(told('abab')).repeats, []);
  assert.deepEqual(foldedBars(told('abcdabcd'), (bar) => bar !== 0).repeats, []);
});

test('property: played as its signs of repeat say, a folded sheet has the bars it had', () => {
  fc.assert(
    fc.property(fc.array(fc.constantFrom('a', 'b', 'c'), { maxLength: 40 }), (bars) => {
      const { keep, repeats } = foldedBars(bars);
      const played: string[] = [];
      for (let n = 0; n < keep.length; n++) {
        played.push(bars[keep[n]!]!);
        const repeat = repeats.find(({ from, bars: many }) => from + many - 1 === n);
        if (!repeat) continue;
        const once = keep.slice(repeat.from, n + 1).map((at) => bars[at]!);
        for (let k = 1; k < repeat.times; k++) played.push(...once);
      }
      assert.deepEqual(played, bars);
    }),
    { numRuns: 500 },
  );
});

test('a folded lead sheet sounds as it did, by a reader that plays repeats', () => {
  const tune = [0, 1, 2, 3, 4, 5, 6, 7].flatMap((bar) => [
    note(48 * bar, 24, 60 + (bar % 4), 2 * bar),
    note(48 * bar + 24, 24, 67, 2 * bar + 1),
  ]);
  const score = scoreOf(tune, { bars: 8 });
  const short = folded(score);
  assert.equal(short.heads.length, 4);
  assert.deepEqual(readBack(writeMusicXml(short)), readBack(writeMusicXml(score)));
});

test('a line has four bars (common practice)', () => {
  const notes = Array.from({ length: 9 }, (_, bar) => note(48 * bar, 48, 60 + bar, bar));
  const xml = writeMusicXml(scoreOf(notes, { bars: 9 }));
  const breaks = [...xml.matchAll(/<measure number="(\d+)"><print new-system="yes"\/>/g)].map(([, n]) => n);
  assert.deepEqual(breaks, ['5', '9']);
});
