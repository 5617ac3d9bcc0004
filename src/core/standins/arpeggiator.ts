import { parseChart } from '../music/chart.ts';
import { pitchClass } from '../music/pitch.ts';
import { makeHand, swung } from './hand.ts';
import { mistaken, withMishaps, type Mishap } from './mishaps.ts';
import { PPQ, type Performance, type Played } from './performance.ts';
import { seededRandom } from '../random.ts';
import { choices, HAND_FIELDS, type CommonSettings, type Held, type StandIn } from './stand-in.ts';

const ORDERS = ['up', 'down', 'up and down', 'as held', 'random'] as const;

/** Steps a quarter note. */
const RATES: Record<string, number> = { '1/8': 2, '1/8 triplet': 3, '1/16': 4, '1/16 triplet': 6, '1/4': 1 };

export interface ArpeggiatorSettings extends CommonSettings {
  chart: string;
  order: string;
  octaves: number;
  rate: string;
  /** Share of a step that a note sounds, in percent. */
  gate: number;
  /** Long share of a pair of eighths, in percent: 50 straight. */
  swing: number;
  program: number;
}

/** The pitches that are gone through, for the keys that are down. */
function ladder(down: readonly Held[], settings: ArpeggiatorSettings): number[] {
  const pitches = down.map(({ pitch }) => pitch);
  const ordered = settings.order === 'as held' ? pitches : [...pitches].sort((a, b) => a - b);
  const all = Array.from({ length: settings.octaves }, (_, octave) =>
    ordered.map((pitch) => pitch + 12 * octave),
  ).flat();
  if (settings.order === 'down') return all.reverse();
  if (settings.order === 'up and down') return [...all, ...all.slice(1, -1).reverse()];
  return all;
}

/** Goes through the held keys step by step, for as long as any is down. */
export function arpeggiate(held: readonly Held[], settings: ArpeggiatorSettings, until: number): Played[] {
  const stepTicks = PPQ / (RATES[settings.rate] ?? 4);
  const notes: Played[] = [];
  let position = 0;
  for (let step = 0; step * stepTicks < until; step++) {
    const tick = step * stepTicks;
    const down = held.filter((note) => note.tick <= tick && (note.end === null || note.end > tick));
    if (down.length === 0) {
      position = 0;
      continue;
    }
    const pitches = ladder(down, settings);
    const index =
      settings.order === 'random'
        ? Math.floor(seededRandom(settings.seed * 1009 + step)() * pitches.length)
        : position++ % pitches.length;
    const accent = tick % PPQ === 0 ? 12 : 0;
    const velocity = Math.min(
      127,
      Math.round(down.reduce((sum, note) => sum + note.velocity, 0) / down.length),
    );
    const pitch = Math.min(127, pitches[index]!);
    notes.push({
      tick: Math.round(swung(tick, settings.swing / 100)),
      length: Math.max(1, Math.round((stepTicks * settings.gate) / 100)),
      pitch,
      velocity: Math.min(127, velocity + accent),
    });
  }
  return notes;
}

/** Turns a few held keys into many notes. */
export const arpeggiator: StandIn<ArpeggiatorSettings> = {
  id: 'arpeggiator',
  title: 'Arpeggiator',
  about: 'Takes held keys apart into steps: two keys can give sixty notes.',
  defaults: {
    bpm: 112,
    seed: 1,
    looseness: 0,
    chart: 'Am | F | C | G',
    order: 'up',
    octaves: 2,
    rate: '1/16',
    gate: 60,
    swing: 50,
    program: 88,
  },
  fields: [
    { name: 'chart', label: 'Chords held', kind: 'text', hint: 'Am | F | C | G' },
    { name: 'order', label: 'Order', kind: 'choice', options: choices(ORDERS) },
    { name: 'octaves', label: 'Octaves', kind: 'number', min: 1, max: 3 },
    { name: 'rate', label: 'Rate', kind: 'choice', options: choices(Object.keys(RATES)) },
    { name: 'gate', label: 'Gate', kind: 'number', min: 10, max: 100, unit: '%' },
    { name: 'swing', label: 'Swing', kind: 'number', min: 50, max: 75, unit: '%' },
    ...HAND_FIELDS,
  ],
  mishaps: ['lateStart', 'wrongThird', 'hungNote', 'doubled', 'tailBars', 'oneBar', 'click', 'layered'],
  play(settings, mishaps: readonly Mishap[] = []): Performance {
    const chart = mistaken(parseChart(settings.chart, 4), mishaps);
    const bar = PPQ * 4;
    const held: Held[] = chart.flatMap((chords, index) =>
      chords.flatMap((chord) =>
        chord.tones.map((tone) => ({
          tick: index * bar + chord.beat * PPQ,
          end: index * bar + (chord.beat + chord.beats) * PPQ - 10,
          pitch: 60 + pitchClass(tone),
          velocity: 88,
        })),
      ),
    );
    const hand = makeHand({ ...settings, swing: 0.5 });
    return withMishaps(
      {
        title: 'Arpeggiator',
        bpm: settings.bpm,
        meter: { numerator: 4, denominator: 4 },
        bars: chart.length,
        parts: [
          {
            name: 'Arpeggio',
            channel: 0,
            program: settings.program,
            notes: arpeggiate(held, settings, chart.length * bar).map(hand),
          },
        ],
        input: {
          name: 'Keys held',
          channel: 0,
          program: null,
          notes: held.map(({ tick, end, pitch, velocity }) => ({
            tick,
            length: end! - tick,
            pitch,
            velocity,
          })),
        },
      },
      mishaps,
      settings.seed,
    );
  },
  respond: arpeggiate,
};
