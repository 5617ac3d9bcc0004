import { parseChart, type ChartChord } from '../music/chart.ts';
import { pitchClass } from '../music/pitch.ts';
import { eachStep, makeHand } from './hand.ts';
import { mistaken, withMishaps, type Mishap } from './mishaps.ts';
import { PPQ, SIXTEENTH, type Performance, type Played } from './performance.ts';
import { choices, HAND_FIELDS, type CommonSettings, type StandIn } from './stand-in.ts';

interface StrumPattern {
  meter: { numerator: number; denominator: number };
  swing: number;
  /** One or two bars of sixteenths: "D" a strong downstroke, "d" a light one, "u" an upstroke, "x" muted. */
  steps: string;
}

const PATTERNS: Record<string, StrumPattern> = {
  'four on the floor': { meter: { numerator: 4, denominator: 4 }, swing: 0.5, steps: 'D...d...D...d...' },
  campfire: { meter: { numerator: 4, denominator: 4 }, swing: 0.5, steps: 'D...D.u...u.D.u.' },
  'two bars, pushed': {
    meter: { numerator: 4, denominator: 4 },
    swing: 0.5,
    steps: 'D...d.u...u.d.u.D...d.u.x.u.d.uu',
  },
  sixteenths: { meter: { numerator: 4, denominator: 4 }, swing: 0.5, steps: 'D.dux.duD.dux.du' },
  'swung eighths': { meter: { numerator: 4, denominator: 4 }, swing: 0.62, steps: 'D...d.u.D...d.u.' },
  'waltz strum': { meter: { numerator: 3, denominator: 4 }, swing: 0.5, steps: 'D...d.u.d.u.' },
  'two bars of three': {
    meter: { numerator: 3, denominator: 4 },
    swing: 0.5,
    steps: 'D...d...d.u.D.u.d.u.d...',
  },
  'six eighths': { meter: { numerator: 6, denominator: 8 }, swing: 0.5, steps: 'D.u.u.D.u.u.' },
};

/** Standard guitar tuning, lowest string first (common practice). */
const STRINGS = [40, 45, 50, 55, 59, 64];

/** Key switches: the strum is chosen by a key away from the range that sounds. */
const SWITCHES = { below: 24, above: 100, none: null } as const;
const SWITCH_OF: Record<string, number> = { D: 0, d: 0, u: 2, x: 4 };

const STROKE_VELOCITY: Record<string, number> = { D: 102, d: 88, u: 80, x: 62 };

export interface StrummerSettings extends CommonSettings {
  chord: string;
  pattern: string;
  bars: number;
  /** Where the key switches lie. */
  switches: keyof typeof SWITCHES;
  /** From the first string to the last, in milliseconds. */
  spread: number;
  program: number;
}

/** The pitches of a chord on six strings, each at its lowest fret, from the string that has the bass up. */
export function onStrings(chord: Pick<ChartChord, 'tones' | 'bass'>): number[] {
  const lowest = STRINGS.findIndex((open) => pitchClass(chord.bass - open) <= 4);
  return STRINGS.slice(Math.max(0, lowest)).map((open, i) => {
    const wanted = i === 0 ? [chord.bass] : chord.tones;
    return open + Math.min(...wanted.map((tone) => pitchClass(tone - open)));
  });
}

function strum(settings: StrummerSettings, pattern: StrumPattern, chord: ChartChord): Played[] {
  const pitches = onStrings(chord);
  const spreadTicks = ((settings.spread / 60_000) * settings.bpm * PPQ) / Math.max(1, pitches.length - 1);
  const barSteps = (pattern.meter.numerator * 16) / pattern.meter.denominator;
  const base = SWITCHES[settings.switches];
  const notes: Played[] = [];
  const steps = Array.from(
    { length: settings.bars * barSteps },
    (_, step) => pattern.steps[step % pattern.steps.length]!,
  ).join('');
  eachStep(steps, (step, stroke) => {
    const tick = step * SIXTEENTH;
    const next = steps.slice(step + 1).search(/[^.]/) + 1 || steps.length - step;
    const length = stroke === 'x' ? SIXTEENTH / 3 : next * SIXTEENTH * 0.94;
    const strings = stroke === 'u' ? [...pitches].reverse().slice(0, 4) : pitches;
    const velocity = STROKE_VELOCITY[stroke]!;
    if (base !== null) {
      notes.push({ tick, length: SIXTEENTH / 2, pitch: base + SWITCH_OF[stroke]!, velocity });
    }
    strings.forEach((pitch, i) =>
      notes.push({ tick: tick + Math.round(i * spreadTicks), length, pitch, velocity: velocity - 2 * i }),
    );
  });
  return notes;
}

/** A strummed guitar that holds one reference chord, as such instruments do; its rhythm lies in key switches. */
export const strummer: StandIn<StrummerSettings> = {
  id: 'strummer',
  title: 'Strummer',
  about: 'Strums the one chord it holds in a pattern, with key switches that carry the rhythm.',
  defaults: {
    bpm: 96,
    seed: 1,
    looseness: 6,
    chord: 'Am',
    pattern: 'campfire',
    bars: 4,
    switches: 'below',
    spread: 28,
    program: 25,
  },
  fields: [
    { name: 'chord', label: 'Chord it holds', kind: 'text', hint: 'Am' },
    { name: 'pattern', label: 'Pattern', kind: 'choice', options: choices(Object.keys(PATTERNS)) },
    { name: 'bars', label: 'Bars', kind: 'number', min: 1, max: 64 },
    { name: 'switches', label: 'Key switches', kind: 'choice', options: choices(Object.keys(SWITCHES)) },
    { name: 'spread', label: 'Strum', kind: 'number', min: 5, max: 60, unit: 'ms' },
    ...HAND_FIELDS,
  ],
  mishaps: ['lateStart', 'wrongThird', 'hungNote', 'doubled', 'tailBars', 'oneBar', 'click'],
  play(settings, mishaps: readonly Mishap[] = []): Performance {
    const pattern = PATTERNS[settings.pattern] ?? PATTERNS.campfire!;
    const [[chord]] = mistaken(parseChart(settings.chord, 4), mishaps) as [[ChartChord]];
    const hand = makeHand({ ...settings, swing: pattern.swing });
    // The hand moves as one: all strings of a stroke stray together.
    const strokes = new Map<number, number>();
    const moved = strum(settings, pattern, chord).map((note) => {
      const stroke = Math.floor(note.tick / SIXTEENTH);
      const straying =
        strokes.get(stroke) ?? hand({ ...note, tick: stroke * SIXTEENTH }).tick - stroke * SIXTEENTH;
      strokes.set(stroke, straying);
      return {
        ...note,
        tick: Math.max(0, note.tick + straying),
        length: Math.round(note.length),
        velocity: Math.max(1, Math.round(note.velocity)),
      };
    });
    return withMishaps(
      {
        title: 'Strummer',
        bpm: settings.bpm,
        meter: pattern.meter,
        bars: settings.bars,
        parts: [{ name: 'Guitar', channel: 0, program: settings.program, notes: moved }],
        input: null,
      },
      mishaps,
      settings.seed,
    );
  },
};
