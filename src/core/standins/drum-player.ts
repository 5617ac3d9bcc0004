import { GM_DRUM_CHANNEL } from '../midi/gm.ts';
import { BAND_KIT } from './band-styles.ts';
import { forceOf } from '../music/rhythm.ts';
import { eachStep, makeHand } from './hand.ts';
import { withMishaps, type Mishap } from './mishaps.ts';
import { SIXTEENTH, type Performance, type Played } from './performance.ts';
import { seededRandom } from '../random.ts';
import { choices, HAND_FIELDS, type CommonSettings, type StandIn } from './stand-in.ts';

type Piece = keyof typeof BAND_KIT;

interface DrumStyle {
  beats: number;
  swing: number;
  /** One bar of sixteenths a piece. */
  groove: Partial<Record<Piece, string>>;
  /** What a busy player adds, the first first. */
  more: Partial<Record<Piece, string>>[];
  fill: Partial<Record<Piece, string>>;
}

const STYLES: Record<string, DrumStyle> = {
  'straight eighths': {
    beats: 4,
    swing: 0.5,
    groove: { kick: 'X.......X.......', snare: '....X.......X...', 'closed hat': 'X.x.X.x.X.x.X.x.' },
    more: [
      { kick: '..........x.....', snare: '.......o.o......' },
      { snare: '.o.............o', 'open hat': '..............x.' },
      { 'closed hat': '.o.o.o.o.o.o.o.o', kick: '...x............' },
    ],
    fill: { snare: '........xxxX....', toms: '............XxXx', kick: 'X.......X.......' },
  },
  shuffle: {
    beats: 4,
    swing: 0.64,
    groove: { kick: 'X.......X.......', snare: '....X.......X...', ride: 'X.x.X.x.X.x.X.x.' },
    more: [
      { snare: '......o.......o.' },
      { kick: '......x...x.....', 'pedal hat': '....x.......x...' },
      { snare: '..o.......o.....' },
    ],
    fill: { snare: 'X.x.X.x.........', toms: '........X.x.X.x.', kick: 'X...............' },
  },
  waltz: {
    beats: 3,
    swing: 0.5,
    groove: { kick: 'X...........', 'side stick and clap': '....x...x...', 'closed hat': 'x...x...x...' },
    more: [{ 'closed hat': '..o...o...o.' }, { kick: '..........x.' }, { snare: '......o.....' }],
    fill: { snare: '....xxXx....', toms: '........XxXx', kick: 'X...........' },
  },
};

export interface DrumPlayerSettings extends CommonSettings {
  style: string;
  /** 0..100. */
  busy: number;
  /** Bars from fill to fill; 0 for none. */
  fillEvery: number;
  /** "intro 2, verse 8, chorus 8": names and bars. */
  sections: string;
}

/** First bars (from 0) of the sections, and the bars of all of them. */
function sectionsOf(text: string): { starts: number[]; bars: number } {
  const lengths = [...text.matchAll(/(\d+)/g)].map(([, bars]) => Math.min(64, Number(bars)));
  const starts: number[] = [];
  let bars = 0;
  for (const length of lengths) {
    starts.push(bars);
    bars += length;
  }
  return bars > 0 ? { starts, bars } : { starts: [0], bars: 8 };
}

function playDrums(settings: DrumPlayerSettings): { notes: Played[]; bars: number; style: DrumStyle } {
  const style = STYLES[settings.style] ?? STYLES['straight eighths']!;
  const { starts, bars } = sectionsOf(settings.sections);
  const random = seededRandom(settings.seed);
  const barLength = style.beats * 4 * SIXTEENTH;
  const notes: Played[] = [];
  const hit = (bar: number, step: number, piece: Piece, velocity: number) =>
    notes.push({
      tick: bar * barLength + step * SIXTEENTH,
      length: SIXTEENTH / 2,
      pitch: BAND_KIT[piece],
      velocity,
    });
  const layer = (bar: number, patterns: DrumStyle['groove'], chance: number) => {
    for (const [piece, pattern] of Object.entries(patterns) as [Piece, string][]) {
      eachStep(pattern, (step, mark) => random() < chance && hit(bar, step, piece, forceOf(mark)));
    }
  };
  for (let bar = 0; bar < bars; bar++) {
    const endsSection = starts.includes(bar + 1);
    const isFill = (settings.fillEvery > 0 && (bar + 1) % settings.fillEvery === 0) || endsSection;
    if (isFill) layer(bar, style.fill, 1);
    else {
      layer(bar, style.groove, 1);
      style.more.forEach((more, i) =>
        layer(bar, more, Math.min(1, Math.max(0, (settings.busy / 100) * style.more.length - i))),
      );
    }
    if (bar > 0 && starts.includes(bar)) hit(bar, 0, 'crash', 112);
  }
  return { notes, bars, style };
}

/** A drummer with a human hand: ghost notes, fills, sections. */
export const drumPlayer: StandIn<DrumPlayerSettings> = {
  id: 'drum-player',
  title: 'Drum player',
  about: 'Plays a kit in a style, busier or calmer, with fills and sections.',
  defaults: {
    bpm: 104,
    seed: 1,
    looseness: 12,
    style: 'straight eighths',
    busy: 50,
    fillEvery: 4,
    sections: 'verse 8',
  },
  fields: [
    { name: 'sections', label: 'Form, each with its bars', kind: 'text', hint: 'intro 2, verse 8, chorus 8' },
    { name: 'style', label: 'Groove', kind: 'choice', options: choices(Object.keys(STYLES)) },
    { name: 'fillEvery', label: 'A fill after', kind: 'number', min: 0, max: 16, unit: 'bars' },
    { name: 'busy', label: 'Strokes', kind: 'number', min: 0, max: 100, unit: '%' },
    ...HAND_FIELDS,
  ],
  mishaps: ['drumChannel', 'lateStart', 'hungNote', 'doubled', 'tailBars', 'oneBar', 'click'],
  play(settings, mishaps: readonly Mishap[] = []): Performance {
    const { notes, bars, style } = playDrums(settings);
    const hand = makeHand({ ...settings, swing: style.swing });
    return withMishaps(
      {
        title: 'Drum player',
        bpm: settings.bpm,
        meter: { numerator: style.beats, denominator: 4 },
        bars,
        parts: [{ name: 'Kit', channel: GM_DRUM_CHANNEL, program: 0, notes: notes.map(hand) }],
        input: null,
      },
      mishaps,
      settings.seed,
    );
  },
};
