import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { parseMidi } from 'midi-file';
import createVerovioModule from 'verovio/wasm';
import { VerovioToolkit } from 'verovio/esm';
import { parseSymbol } from '../../../src/core/music/chord.ts';
import { parseKey } from '../../../src/core/music/key.ts';
import { steadyTimeline } from '../../../src/core/music/timeline.ts';
import { fingered, writeMusicXml, type Score } from '../../../src/core/notation/musicxml.ts';
import { barUnits, QUARTER, signsOf } from '../../../src/core/notation/reading-rhythm.ts';
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
  return {
    ...{
      title: 'Crossing <1> & "2"',
      key: parseKey(key)!,
      bpm: 100,
      meter: { numerator: meter[0], denominator: meter[1] },
    },
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
