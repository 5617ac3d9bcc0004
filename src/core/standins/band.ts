import {
  channelEvent,
  CONTROLLER,
  META,
  metaEvent,
  STATUS,
  type MidiEvent,
  type MidiFile,
} from '../midi/smf.ts';
import { encodeText } from '../midi/text.ts';
import { parseChart, type ChartChord } from '../music/chart.ts';
import { pitchClass } from '../music/pitch.ts';
import { microsecondsOf } from '../music/timeline.ts';
import { BAND_KIT, BAND_STYLES, type BandStyle, type BandStyleName } from './band-styles.ts';
import { seededRandom } from './random.ts';

/** What the band is asked to play. */
export interface BandRequest {
  /** Chords, as `parseChart` reads them. */
  chart: string;
  style: BandStyleName;
  bpm: number;
  seed: number;
  /** Name that the device writes into the file. */
  title: string;
  /** How far a human hand strays, in milliseconds (95 % of the notes). 0 plays like a machine. */
  looseness?: number;
}

const PPQ = 480;
const SIXTEENTH = PPQ / 4;

/** Bars that the band adds after the chart, unasked, as such devices do. */
const TAIL_BARS = 2;

/** A note still in musical terms: the band's hand moves it before it becomes bytes. */
interface Played {
  tick: number;
  length: number;
  pitch: number;
  velocity: number;
}

/**
 * A simulated accompaniment band: drums, bass, keys, guitar and pad play a chart and write one Standard MIDI
 * File, the way such devices do. The bass comes in three tracks (its line, its pickups, its ending), the
 * drums sit on the style's channel, and two bars follow the chart. The same request gives the same file.
 *
 * @throws ChartError when the chart cannot be read.
 */
export function playBand(request: BandRequest): MidiFile {
  const style: BandStyle = BAND_STYLES[request.style];
  const chart = parseChart(request.chart, style.meter.numerator);
  const barLength = (PPQ * 4 * style.meter.numerator) / style.meter.denominator;
  const hand = makeHand(request, style);
  const last = chart.at(-1)!;
  const bass = playBass(chart, style, barLength);
  const { programs } = style;

  const ending = chart.length * barLength;
  const final = last.at(-1)!;
  const endOfFile = ending + TAIL_BARS * barLength;
  const track = (name: string, channel: number, program: number | null, notes: Played[]) =>
    makeTrack(name, channel, program, notes.map(hand), endOfFile);
  return {
    format: 1,
    division: { kind: 'metrical', ppq: PPQ },
    otherChunks: [],
    tracks: [
      conductor(request, style, endOfFile),
      track(
        'Kit',
        style.drumChannel,
        style.drumChannel === 9 ? 0 : null,
        playDrums(chart.length, style, barLength),
      ),
      track('Bass', 1, programs.bass, bass.line),
      track('Bass pickup', 1, programs.bass, bass.pickups),
      track('Bass ending', 1, programs.bass, [
        { tick: ending, length: barLength * 1.5, pitch: lowPitch(final.root), velocity: 92 },
      ]),
      track('Keys', 2, programs.keys, [
        ...playChords(chart, style.keys, barLength, 60, 1.6),
        ...chordAt(final, ending, barLength * 1.5, 60, 88),
      ]),
      track('Guitar', 3, programs.guitar, playGuitar(chart, style, barLength)),
      track('Pad', 4, programs.pad, [
        ...playPad(chart, barLength),
        ...chordAt(final, ending, barLength * 2, 67, 62),
      ]),
      track('Lyrics', 5, null, []),
    ],
  };
}

function conductor(request: BandRequest, style: BandStyle, end: number): MidiEvent[] {
  const tempo = microsecondsOf(request.bpm);
  const { numerator, denominator } = style.meter;
  return [
    metaEvent(0, META.trackName, encodeText(request.title)),
    metaEvent(0, META.tempo, Uint8Array.of(tempo >> 16, (tempo >> 8) & 0xff, tempo & 0xff)),
    metaEvent(0, META.meter, Uint8Array.of(numerator, Math.log2(denominator), 24, 8)),
    metaEvent(end, META.endOfTrack, new Uint8Array()),
  ];
}

/** Strays a little in time and force, the same way for the same seed, and swings the eighths between beats. */
function makeHand(request: BandRequest, style: BandStyle): (note: Played) => Played {
  const random = seededRandom(request.seed);
  const spread = (((request.looseness ?? 12) / 1000) * request.bpm * PPQ) / 60;
  // The sum of three even draws is close enough to a bell curve for a hand.
  const stray = () => (random() + random() + random() - 1.5) / 1.5;
  return (note) => ({
    ...note,
    tick: Math.max(0, Math.round(swung(note.tick, style.swing) + stray() * spread)),
    length: Math.max(1, Math.round(note.length)),
    velocity: Math.min(127, Math.max(1, Math.round(note.velocity + stray() * 9))),
  });
}

function swung(tick: number, swing: number): number {
  const inBeat = tick % PPQ;
  const middle = PPQ / 2;
  const moved =
    inBeat < middle
      ? (inBeat / middle) * PPQ * swing
      : PPQ * swing + ((inBeat - middle) / middle) * PPQ * (1 - swing);
  return tick - inBeat + moved;
}

function playDrums(bars: number, style: BandStyle, barLength: number): Played[] {
  const notes: Played[] = [];
  const hit = (tick: number, piece: keyof typeof BAND_KIT, velocity: number) =>
    notes.push({ tick, length: SIXTEENTH / 2, pitch: BAND_KIT[piece], velocity });
  for (let bar = 0; bar < bars; bar++) {
    const patterns = bar % 4 === 3 ? style.fill : style.drums;
    for (const [piece, pattern] of Object.entries(patterns) as [keyof typeof BAND_KIT, string][]) {
      eachStep(pattern, (step, mark) => hit(bar * barLength + step * SIXTEENTH, piece, force(mark)));
    }
    if (bar > 0 && bar % 4 === 0) hit(bar * barLength, 'crash', 108);
  }
  hit(bars * barLength, 'kick', 110);
  hit(bars * barLength, 'crash', 114);
  return notes;
}

/** The line, and apart from it what leads into every fourth bar: such devices keep pickups on their own track. */
function playBass(
  chart: ChartChord[][],
  style: BandStyle,
  barLength: number,
): { line: Played[]; pickups: Played[] } {
  const line: Played[] = [];
  const pickups: Played[] = [];
  chart.forEach((bar, index) => {
    const leadsOn = index % 4 === 3;
    const steps = [...style.bass].flatMap((mark, step) =>
      mark === '.' ? [] : [{ step, degree: Number(mark) }],
    );
    steps.forEach(({ step, degree }, i) => {
      const beat = step / 4;
      if (leadsOn && beat >= style.meter.numerator - 1) return;
      const chord = chordOn(bar, beat);
      const next = steps[i + 1]?.step ?? style.bass.length;
      const tones = [chord.bass, chord.tones[1]!, chord.tones[2] ?? chord.root, chord.tones[3] ?? chord.root];
      line.push({
        tick: index * barLength + step * SIXTEENTH,
        length: (next - step) * SIXTEENTH * 0.9,
        pitch: lowPitch(tones[degree - 1]!),
        velocity: step === 0 ? 98 : 86,
      });
    });
    if (!leadsOn) return;
    // Two eighths that step up into the root to come.
    const target = lowPitch(chordOn(chart[index + 1] ?? chart[0]!, 0).bass);
    [-3, -1].forEach((below, i) =>
      pickups.push({
        tick: (index + 1) * barLength - PPQ + (i * PPQ) / 2,
        length: PPQ * 0.42,
        pitch: target + below,
        velocity: 84 + 6 * i,
      }),
    );
  });
  return { line, pickups };
}

function playChords(
  chart: ChartChord[][],
  pattern: string,
  barLength: number,
  center: number,
  beats: number,
): Played[] {
  return chart.flatMap((bar, index) => {
    const notes: Played[] = [];
    eachStep(pattern, (step, mark) => {
      const tick = index * barLength + step * SIXTEENTH;
      notes.push(...chordAt(chordOn(bar, step / 4), tick, PPQ * beats * 0.5, center, force(mark) - 8));
    });
    return notes;
  });
}

/** Strummed: the strings one after the other, down on the beat and up between. */
function playGuitar(chart: ChartChord[][], style: BandStyle, barLength: number): Played[] {
  const strings = Math.round(PPQ / 40);
  return chart.flatMap((bar, index) => {
    const notes: Played[] = [];
    eachStep(style.guitar, (step, mark) => {
      const tick = index * barLength + step * SIXTEENTH;
      const chord = chordAt(chordOn(bar, step / 4), tick, SIXTEENTH * 1.5, 57, force(mark) - 14);
      if (step % 4 !== 0) chord.reverse();
      notes.push(...chord.map((note, i) => ({ ...note, tick: note.tick + i * strings })));
    });
    return notes;
  });
}

function playPad(chart: ChartChord[][], barLength: number): Played[] {
  return chart.flatMap((bar, index) =>
    bar.flatMap((chord) =>
      chordAt(chord, index * barLength + chord.beat * PPQ, chord.beats * PPQ * 0.98, 67, 58),
    ),
  );
}

function chordOn(bar: ChartChord[], beat: number): ChartChord {
  return bar.findLast((chord) => chord.beat <= beat) ?? bar[0]!;
}

/** The chord's tones, each in the octave nearest above a floor of half an octave under the center. */
function chordAt(
  chord: ChartChord,
  tick: number,
  length: number,
  center: number,
  velocity: number,
): Played[] {
  const floor = center - 6;
  return chord.tones
    .map((tone) => floor + pitchClass(tone - floor))
    .sort((a, b) => a - b)
    .map((pitch) => ({ tick, length, pitch, velocity }));
}

/** A pitch class in the bass's octave, E1 to Eb2. */
function lowPitch(pc: number): number {
  return 28 + pitchClass(pc - 28);
}

function eachStep(pattern: string, play: (step: number, mark: string) => void): void {
  [...pattern].forEach((mark, step) => mark !== '.' && play(step, mark));
}

function force(mark: string): number {
  return mark === 'X' ? 106 : mark === 'o' ? 38 : 84;
}

function makeTrack(
  name: string,
  channel: number,
  program: number | null,
  notes: Played[],
  end: number,
): MidiEvent[] {
  const ordered: (MidiEvent & { order: number })[] = [];
  for (const { tick, length, pitch, velocity } of notes) {
    ordered.push({ ...channelEvent(tick, STATUS.noteOn, channel, pitch, velocity), order: 1 });
    ordered.push({
      ...channelEvent(Math.min(tick + length, end), STATUS.noteOff, channel, pitch, 64),
      order: 0,
    });
  }
  ordered.sort((a, b) => a.tick - b.tick || a.order - b.order);
  const setUp =
    program === null
      ? []
      : [
          channelEvent(0, STATUS.program, channel, program),
          channelEvent(0, STATUS.controller, channel, CONTROLLER.volume, 100),
        ];
  return [
    metaEvent(0, META.trackName, encodeText(name)),
    ...setUp,
    ...ordered.map(({ order: _, ...event }) => event),
    metaEvent(end, META.endOfTrack, new Uint8Array()),
  ];
}
