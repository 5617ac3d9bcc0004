import { GM_DRUM_CHANNEL } from '../midi/gm.ts';
import type { MidiFile } from '../midi/smf.ts';
import { parseChart, type ChartChord } from '../music/chart.ts';
import { pitchClass } from '../music/pitch.ts';
import { BAND_KIT, BAND_STYLES, type BandStyle, type BandStyleName } from './band-styles.ts';
import { chordAt, chordOn } from './chords.ts';
import { forceOf } from '../music/rhythm.ts';
import { eachStep, makeHand } from './hand.ts';
import { addedBars, mistaken, withMishaps, type Mishap } from './mishaps.ts';
import {
  performanceFile,
  PPQ,
  SIXTEENTH,
  type Performance,
  type Played,
  type PlayedPart,
} from './performance.ts';
import { HAND_FIELDS, type CommonSettings, type StandIn } from './stand-in.ts';

const PARTS = ['Kit', 'Bass', 'Keys', 'Guitar', 'Pad'] as const;

export interface BandSettings extends CommonSettings {
  /** Chords, as `parseChart` reads them. */
  chart: string;
  style: BandStyleName;
  /** How often the chart is played. */
  choruses: number;
  /** The parts that play. */
  parts: string[];
}

/** A simulated accompaniment band: drums, bass, keys, guitar and pad play a chart. */
export const band: StandIn<BandSettings> = {
  id: 'band',
  title: 'Band',
  about: 'Drums, bass, keys, guitar and pad play a chord chart in a style.',
  defaults: {
    bpm: 96,
    seed: 1,
    looseness: 12,
    chart: 'Dm | Bb | Gm | A7',
    style: 'river',
    choruses: 2,
    parts: [...PARTS],
  },
  fields: [
    { name: 'chart', label: 'Chart', kind: 'text', hint: 'Dm | Bb | Gm A7 | Dm' },
    {
      name: 'style',
      label: 'Style',
      kind: 'choice',
      options: Object.entries(BAND_STYLES).map(([value, { title, meter }]) => ({
        value,
        label: `${title} (${meter.numerator}/${meter.denominator})`,
      })),
    },
    { name: 'choruses', label: 'Times through', kind: 'number', min: 1, max: 16 },
    {
      name: 'parts',
      label: 'Who plays',
      kind: 'several',
      options: PARTS.map((part) => ({ value: part, label: part })),
    },
    ...HAND_FIELDS,
  ],
  mishaps: [
    'drumChannel',
    'oneTrack',
    'pieces',
    'lateStart',
    'wrongThird',
    'hungNote',
    'doubled',
    'tailBars',
    'click',
    'layered',
  ],
  play(settings, mishaps: readonly Mishap[] = []): Performance {
    const style: BandStyle = BAND_STYLES[settings.style] ?? BAND_STYLES.river;
    const once = mistaken(parseChart(settings.chart, style.meter.numerator), mishaps);
    const chart = Array.from({ length: settings.choruses }, () => once).flat();
    const hand = makeHand({ ...settings, swing: style.swing });
    const ending = mishaps.includes('tailBars') ? addedBars(settings.seed) : 0;
    const parts = playParts(chart, style, ending)
      .filter(({ name }) => settings.parts.includes(name))
      .map((part) => ({ ...part, notes: part.notes.map(hand) }));
    const { meter } = style;
    const clean = { title: 'Band', bpm: settings.bpm, meter, bars: chart.length, parts, input: null };
    // Its tail bars are an ending of its own.
    return withMishaps(
      clean,
      mishaps.filter((mishap) => mishap !== 'tailBars'),
      settings.seed,
    );
  },
};

/** What the band is asked to play for a file. */
export interface BandRequest extends Omit<BandSettings, 'looseness' | 'choruses' | 'parts'> {
  /** Name that the device writes into the file. */
  title: string;
  looseness?: number;
  choruses?: number;
  mishaps?: Mishap[];
}

/**
 * The file that the band exports, with the habits such devices have unless others are asked for: the bass in
 * three tracks, some bars after the chart, and in the market style drums on channel 1.
 *
 * @throws ChartError when the chart cannot be read.
 */
export function bandFile({ title, mishaps, ...request }: BandRequest): MidiFile {
  const habits: Mishap[] =
    request.style === 'market' ? ['pieces', 'tailBars', 'drumChannel'] : ['pieces', 'tailBars'];
  const performance = band.play({ ...band.defaults, choruses: 1, ...request }, mishaps ?? habits);
  return performanceFile({ ...performance, title });
}

/** The parts of a band, with an ending of so many bars after the chart. */
function playParts(chart: ChartChord[][], style: BandStyle, endingBars: number): PlayedPart[] {
  const { programs, meter } = style;
  const barLength = (PPQ * 4 * meter.numerator) / meter.denominator;
  const beat = (PPQ * 4) / meter.denominator;
  const end = chart.length * barLength;
  const final = chart.at(-1)!.at(-1)!;
  /** What rings in the last bars, struck again after every second one. */
  const ending = (notes: Played[]) =>
    Array.from({ length: Math.ceil(endingBars / 2) }, (_, k) =>
      notes.map((note) => ({
        ...note,
        tick: note.tick + 2 * k * barLength,
        length: Math.min(note.length, (endingBars - 2 * k) * barLength),
      })),
    ).flat();
  return [
    {
      name: 'Kit',
      channel: GM_DRUM_CHANNEL,
      program: 0,
      notes: [
        ...playDrums(chart.length, style, barLength),
        ...ending([
          { tick: end, length: SIXTEENTH / 2, pitch: BAND_KIT.kick, velocity: 110 },
          { tick: end, length: SIXTEENTH / 2, pitch: BAND_KIT.crash, velocity: 114 },
        ]),
      ],
    },
    {
      name: 'Bass',
      channel: 1,
      program: programs.bass,
      notes: [
        ...playBass(chart, style, barLength),
        ...ending([{ tick: end, length: barLength * 1.5, pitch: lowPitch(final.root), velocity: 92 }]),
      ],
    },
    {
      name: 'Keys',
      channel: 2,
      program: programs.keys,
      notes: [
        ...playChords(chart, style.keys, barLength, beat, 60, 1.6),
        ...ending(chordAt(final, end, barLength * 1.5, 60, 88)),
      ],
    },
    {
      name: 'Guitar',
      channel: 3,
      program: programs.guitar,
      notes: playGuitar(chart, style, barLength, beat),
    },
    {
      name: 'Pad',
      channel: 4,
      program: programs.pad,
      notes: [...playPad(chart, barLength, beat), ...ending(chordAt(final, end, barLength * 2, 67, 62))],
    },
  ];
}

function playDrums(bars: number, style: BandStyle, barLength: number): Played[] {
  const notes: Played[] = [];
  const hit = (tick: number, piece: keyof typeof BAND_KIT, velocity: number) =>
    notes.push({ tick, length: SIXTEENTH / 2, pitch: BAND_KIT[piece], velocity });
  for (let bar = 0; bar < bars; bar++) {
    const patterns = bar % 4 === 3 ? style.fill : style.drums;
    for (const [piece, pattern] of Object.entries(patterns) as [keyof typeof BAND_KIT, string][]) {
      eachStep(pattern, (step, mark) => hit(bar * barLength + step * SIXTEENTH, piece, forceOf(mark)));
    }
    if (bar > 0 && bar % 4 === 0) hit(bar * barLength, 'crash', 108);
  }
  return notes;
}

/** The line, and in every fourth bar two notes that step up into the root to come. */
function playBass(chart: ChartChord[][], style: BandStyle, barLength: number): Played[] {
  const { numerator, denominator } = style.meter;
  const beat = (PPQ * 4) / denominator;
  const line: Played[] = [];
  const steps = [...style.bass].flatMap((mark, step) =>
    mark === '.' ? [] : [{ step, degree: Number(mark) }],
  );
  chart.forEach((bar, index) => {
    const leadsOn = index % 4 === 3;
    steps.forEach(({ step, degree }, i) => {
      const at = (step * SIXTEENTH) / beat;
      if (leadsOn && at >= numerator - 1) return;
      const chord = chordOn(bar, at);
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
    const target = lowPitch(chordOn(chart[index + 1] ?? chart[0]!, 0).bass);
    [-3, -1].forEach((below, i) =>
      line.push({
        tick: (index + 1) * barLength - beat + (i * beat) / 2,
        length: beat * 0.42,
        pitch: target + below,
        velocity: 84 + 6 * i,
      }),
    );
  });
  return line;
}

function playChords(
  chart: ChartChord[][],
  pattern: string,
  barLength: number,
  beat: number,
  center: number,
  beats: number,
): Played[] {
  return chart.flatMap((bar, index) => {
    const notes: Played[] = [];
    eachStep(pattern, (step, mark) => {
      const tick = index * barLength + step * SIXTEENTH;
      const chord = chordOn(bar, (step * SIXTEENTH) / beat);
      notes.push(...chordAt(chord, tick, PPQ * beats * 0.5, center, forceOf(mark) - 8));
    });
    return notes;
  });
}

/** Strummed: the strings one after the other, down on the beat and up between. */
function playGuitar(chart: ChartChord[][], style: BandStyle, barLength: number, beat: number): Played[] {
  const strings = Math.round(PPQ / 40);
  return chart.flatMap((bar, index) => {
    const notes: Played[] = [];
    eachStep(style.guitar, (step, mark) => {
      const tick = index * barLength + step * SIXTEENTH;
      const chord = chordAt(
        chordOn(bar, (step * SIXTEENTH) / beat),
        tick,
        SIXTEENTH * 1.5,
        57,
        forceOf(mark) - 14,
      );
      if (step % 4 !== 0) chord.reverse();
      notes.push(...chord.map((note, i) => ({ ...note, tick: note.tick + i * strings })));
    });
    return notes;
  });
}

function playPad(chart: ChartChord[][], barLength: number, beat: number): Played[] {
  return chart.flatMap((bar, index) =>
    bar.flatMap((chord) =>
      chordAt(chord, index * barLength + chord.beat * beat, chord.beats * beat * 0.98, 67, 58),
    ),
  );
}

/** A pitch class in the bass's octave, E1 to Eb2. */
function lowPitch(pc: number): number {
  return 28 + pitchClass(pc - 28);
}
