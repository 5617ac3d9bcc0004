import type { OwnOut } from '../../core/exchange/own-out.ts';
import type { Card } from '../../core/exchange/card.ts';
import type { WeaveEnding } from '../../core/weave/weave.ts';
import type { RecordingClock } from '../../core/capture/recording.ts';
import type { BandRequest } from '../../core/standins/band.ts';
import type { Mishap } from '../../core/standins/mishaps.ts';
import type { Recipe } from '../../core/normalize/recipe.ts';
import type { Role } from '../../core/split/roles.ts';
import type { TakeAsked } from '../db/schema.ts';

/** The demo's scenario: all invented, with fixed seeds, so that it is the same on every machine. */

/** A show of the traveling puppet theater. All invented. */
export interface DemoProject {
  name: string;
  key: string;
  bpm: number;
  meter: [number, number];
  chords: string;
}

export const PROJECTS: DemoProject[] = [
  { name: 'The Lantern Ferry', key: 'Dm', bpm: 96, meter: [4, 4], chords: 'Dm | Bb | Gm | A7' },
  { name: 'Salt and Thistle', key: 'G', bpm: 118, meter: [4, 4], chords: 'G | C | D7 | G' },
  { name: "The Clockmaker's Goose", key: 'Em', bpm: 132, meter: [3, 4], chords: 'Em | Am | B7 | Em' },
];

/** Bars of some parts that become phrases: several parts in one cut become a sheaf. */
export interface DemoCut {
  parts: string[];
  start: number;
  bars: number;
  name: string;
  tags: string[];
  draft?: boolean;
}

export interface DemoTake extends Omit<BandRequest, 'seed'> {
  project: number;
  contributor: string;
  cuts: DemoCut[];
}

const COMPOSER = 'Composer';
const PERCUSSIONIST = 'Percussionist';
export const BAND = 'Band stand-in';

/** How far the demo's players stray, in milliseconds: enough to see what quantizing does. */
export const LOOSENESS = 26;

export const TAKES: DemoTake[] = [
  {
    title: 'Ferry crossing',
    project: 0,
    style: 'river',
    bpm: 96,
    chart: 'Dm | Dm | Bb | C | Dm | Gm7 | A7 | Dm | Dm | Bb',
    contributor: COMPOSER,
    cuts: [
      { parts: ['Bass'], start: 5, bars: 4, name: 'Ferry bass, low walk', tags: ['river', 'walking'] },
      { parts: ['Kit'], start: 1, bars: 4, name: 'Oars on the beat', tags: ['river', 'groove', 'fill'] },
      { parts: ['Keys'], start: 5, bars: 4, name: 'Ferry chords, open', tags: ['river'] },
      { parts: ['Guitar'], start: 1, bars: 2, name: 'Rope strum', tags: ['river'] },
      { parts: ['Pad'], start: 1, bars: 8, name: 'Fog over water', tags: ['river', 'slow'] },
      { parts: ['Bass', 'Keys', 'Kit'], start: 1, bars: 4, name: 'Crossing verse', tags: ['river', 'verse'] },
    ],
  },
  {
    title: 'Lamplighters',
    project: 0,
    style: 'river',
    bpm: 112,
    chart: 'Am | F | C | G | Am | F | Dm | E7',
    contributor: COMPOSER,
    cuts: [
      { parts: ['Keys'], start: 1, bars: 4, name: 'Lamplighter rise', tags: ['night', 'glass'] },
      { parts: ['Bass'], start: 1, bars: 4, name: 'Lamp pole', tags: ['night', 'walking'] },
      { parts: ['Kit'], start: 5, bars: 4, name: 'Street at dusk', tags: ['night', 'groove'] },
      { parts: ['Guitar'], start: 5, bars: 4, name: 'Shutters', tags: ['night'] },
      { parts: ['Pad'], start: 5, bars: 4, name: 'Lantern sevenths', tags: ['night', 'slow'], draft: true },
    ],
  },
  {
    title: 'Far bank',
    project: 0,
    style: 'river',
    bpm: 72,
    chart: 'Dm | C | Bb | A | Dm | C | Bb | A7',
    contributor: COMPOSER,
    cuts: [
      {
        parts: ['Pad'],
        start: 1,
        bars: 4,
        name: 'Far bank, four steps down',
        tags: ['river', 'slow', 'descent'],
      },
      { parts: ['Bass'], start: 1, bars: 8, name: 'Anchor chain', tags: ['river', 'slow', 'descent'] },
      { parts: ['Keys'], start: 1, bars: 4, name: 'Far bank chords', tags: ['river', 'descent'] },
    ],
  },
  {
    title: 'Landing stage',
    project: 0,
    style: 'river',
    bpm: 100,
    chart: 'F | C | Dm | Bb | F | C | Bb | F',
    contributor: PERCUSSIONIST,
    cuts: [],
  },
  {
    title: 'Market opening',
    project: 1,
    style: 'market',
    bpm: 118,
    chart: 'G | C | G | D7 | G | C | D7 | G',
    contributor: COMPOSER,
    cuts: [
      {
        parts: ['Kit'],
        start: 1,
        bars: 8,
        name: 'Market shuffle with fill',
        tags: ['market', 'fill', 'groove'],
      },
      { parts: ['Bass'], start: 1, bars: 4, name: 'Salt two-step', tags: ['market', 'walking'] },
      { parts: ['Guitar'], start: 1, bars: 4, name: 'Thistle strum', tags: ['market', 'swing'] },
      { parts: ['Keys'], start: 5, bars: 4, name: 'Barrow chords', tags: ['market', 'swing'] },
      { parts: ['Bass', 'Guitar', 'Kit'], start: 5, bars: 4, name: 'Stalls open', tags: ['market', 'verse'] },
    ],
  },
  {
    title: 'Quarrel at the stall',
    project: 1,
    style: 'market',
    bpm: 138,
    chart: 'Em | Am | B7 | Em | C | G | F#m7b5 B7 | Em',
    contributor: COMPOSER,
    cuts: [
      { parts: ['Bass'], start: 1, bars: 4, name: 'Quarrel, low voice', tags: ['market', 'comic'] },
      { parts: ['Keys'], start: 5, bars: 4, name: 'Quarrel, high voice', tags: ['market', 'comic'] },
      { parts: ['Kit'], start: 4, bars: 1, name: 'Barrow goes over', tags: ['fill', 'comic'] },
      { parts: ['Guitar'], start: 1, bars: 2, name: 'Finger wagging', tags: ['comic', 'swing'], draft: true },
    ],
  },
  {
    title: 'Thistle 104bpm Bm bridge',
    project: 1,
    style: 'market',
    bpm: 104,
    chart: 'Bm | G | D | A | Bm | G | Em | F#7',
    contributor: PERCUSSIONIST,
    cuts: [
      { parts: ['Guitar'], start: 1, bars: 4, name: 'Thistle bridge', tags: ['bridge', 'swing'] },
      { parts: ['Pad'], start: 5, bars: 4, name: 'Thistle bridge, held', tags: ['bridge', 'slow'] },
      { parts: ['Kit'], start: 1, bars: 2, name: 'Brush steps', tags: ['bridge', 'groove'] },
    ],
  },
  {
    title: 'Goose waltz',
    project: 2,
    style: 'clockwork',
    bpm: 132,
    chart: 'Em | Em | Am | B7 | Em | C | B7 | Em',
    contributor: COMPOSER,
    cuts: [
      { parts: ['Keys'], start: 1, bars: 8, name: 'Goose clock waltz', tags: ['winter', 'clock'] },
      { parts: ['Bass'], start: 1, bars: 8, name: 'Goose pedal point', tags: ['winter'] },
      { parts: ['Kit'], start: 1, bars: 4, name: 'Clock case', tags: ['winter', 'clock', 'groove'] },
      { parts: ['Guitar'], start: 5, bars: 4, name: 'Harp of frost', tags: ['winter', 'glass'] },
      { parts: ['Keys', 'Guitar', 'Pad'], start: 1, bars: 4, name: 'Snow globe', tags: ['winter', 'glass'] },
    ],
  },
  {
    title: 'Escapement',
    project: 2,
    style: 'clockwork',
    bpm: 120,
    chart: 'C | Am | F | G7 | C | Am | Dm G7 | C',
    contributor: COMPOSER,
    cuts: [
      { parts: ['Keys'], start: 1, bars: 1, name: 'Clock escapement', tags: ['winter', 'clock'] },
      { parts: ['Pad'], start: 1, bars: 8, name: 'Hall of clocks', tags: ['clock', 'slow'] },
      { parts: ['Bass'], start: 5, bars: 4, name: 'Pendulum', tags: ['clock'] },
      { parts: ['Kit'], start: 4, bars: 1, name: 'Spring lets go', tags: ['fill', 'clock'], draft: true },
    ],
  },
  {
    title: 'Winter window',
    project: 2,
    style: 'clockwork',
    bpm: 88,
    chart: 'Gm | Eb | Bb | F | Gm | Eb | Cm | D7',
    contributor: PERCUSSIONIST,
    cuts: [],
  },
];

/** A file that another stand-in exports, or a take that is recorded from it. */
export interface DemoStandIn {
  standIn: string;
  settings: Record<string, unknown>;
  mishaps?: Mishap[];
  contributor: string;
  /** With its folders, as it is dropped. */
  file: string;
  asked?: TakeAsked;
}

/** Files of all kinds, clean ones and the usual mishaps. */
export const STAND_IN_FILES: DemoStandIn[] = [
  {
    standIn: 'chord-player',
    settings: {
      key: 'Dm',
      progression: '1 7 6 5',
      rhythm: 'stabs',
      bpm: 96,
      bars: 8,
      looseness: 14,
      seed: 31,
    },
    contributor: COMPOSER,
    file: 'Lantern Ferry/Lantern chords 96bpm Dm verse.mid',
    asked: { bars: 8 },
  },
  {
    standIn: 'chord-player',
    settings: {
      key: 'E dorian',
      progression: '1 4 1 5 1 4 5 1',
      stack: 'ninths',
      rhythm: 'waltz, held',
      bpm: 88,
      bars: 8,
      seed: 32,
    },
    contributor: COMPOSER,
    file: "Clockmaker's Goose/Snow in the wings.mid",
    asked: { bars: 8 },
  },
  {
    standIn: 'arpeggiator',
    settings: { chart: 'Em | Em | C | B7', bpm: 120, octaves: 2, order: 'up and down', seed: 33 },
    mishaps: ['doubled'],
    contributor: COMPOSER,
    file: "Clockmaker's Goose/Frost on the glass.mid",
    asked: { chart: 'Em | Em | C | B7' },
  },
  {
    standIn: 'drum-player',
    settings: { style: 'shuffle', bpm: 118, sections: 'intro 2, verse 8, chorus 4', busy: 60, seed: 34 },
    mishaps: ['drumChannel'],
    contributor: PERCUSSIONIST,
    file: 'Salt and Thistle/Crates and barrels.mid',
    asked: { bars: 14 },
  },
  {
    standIn: 'drum-player',
    settings: { style: 'straight eighths', bpm: 96, sections: 'verse 8', busy: 35, seed: 35 },
    contributor: PERCUSSIONIST,
    file: 'Lantern Ferry/Oar song kit 96bpm.mid',
    asked: { bars: 8 },
  },
  {
    standIn: 'strummer',
    settings: { chord: 'G', pattern: 'campfire', bpm: 118, bars: 4, switches: 'below', seed: 36 },
    contributor: COMPOSER,
    file: 'Salt and Thistle/Stall strum.mid',
    asked: { bars: 4 },
  },
  {
    standIn: 'strummer',
    settings: { chord: 'Em', pattern: 'waltz strum', bpm: 132, bars: 8, switches: 'above', seed: 37 },
    contributor: COMPOSER,
    file: "Clockmaker's Goose/Goose strum 132bpm Em.mid",
    asked: { bars: 8 },
  },
  {
    standIn: 'step-grid',
    settings: { bpm: 120, bars: 4, seed: 38 },
    mishaps: ['oneBar'],
    contributor: PERCUSSIONIST,
    file: "Clockmaker's Goose/Clock steps.mid",
    asked: { bars: 4 },
  },
  {
    standIn: 'band',
    settings: { chart: 'G | C | D7 | G | Em | C | D7 | G', style: 'market', choruses: 1, bpm: 126, seed: 39 },
    mishaps: ['oneTrack'],
    contributor: COMPOSER,
    file: 'Salt and Thistle/Salt overture.mid',
    asked: { chart: 'G | C | D7 | G | Em | C | D7 | G', parts: 5 },
  },
  {
    standIn: 'band',
    settings: { chart: 'Dm | Gsus4 | Bb | Asus4', style: 'river', choruses: 2, bpm: 84, seed: 40 },
    mishaps: ['wrongThird', 'lateStart'],
    contributor: COMPOSER,
    file: 'Lantern Ferry/Tide turning.mid',
    asked: { chart: 'Dm | Gsus4 | Bb | Asus4', bars: 8 },
  },
  {
    standIn: 'band',
    settings: { chart: 'Dm | C | Bb | A7', style: 'river', choruses: 2, bpm: 104, seed: 46 },
    mishaps: ['pieces', 'drumChannel', 'doubled', 'click', 'layered', 'tailBars'],
    contributor: COMPOSER,
    file: 'Lantern Ferry/Storm on the crossing.mid',
    asked: { chart: 'Dm | C | Bb | A7', bars: 8 },
  },
  {
    standIn: 'band',
    settings: { chart: 'Am | G | F | E7', style: 'market', choruses: 2, bpm: 122, seed: 47 },
    mishaps: ['pieces', 'drumChannel', 'hungNote', 'click', 'layered', 'tailBars'],
    contributor: COMPOSER,
    file: 'Salt and Thistle/Riot among the baskets.mid',
    asked: { chart: 'Am | G | F | E7', bars: 8 },
  },
  {
    standIn: 'band',
    settings: {
      chart: 'C | Am | F | G7 | C | F | G7 | C | Eb | Cm | Ab | Bb7 | Eb | Ab | Bb7 | Eb',
      style: 'river',
      choruses: 1,
      bpm: 108,
      seed: 49,
    },
    contributor: COMPOSER,
    file: 'Lantern Ferry/Two banks, two keys.mid',
    asked: { chart: 'C | Am | F | G7 | C | F | G7 | C | Eb | Cm | Ab | Bb7 | Eb | Ab | Bb7 | Eb', bars: 16 },
  },
];

/** Bars of takes whose changes are kept. */
export const KEPT_CHANGES = [
  { take: 'Ferry crossing', startBar: 1, bars: 8, name: 'Ferry verse' },
  { take: 'Market opening', startBar: 1, bars: 4, name: 'Stalls open' },
  { take: 'Two banks, two keys', startBar: 9, bars: 8, name: 'The far bank' },
];

/** One performance as its device exports it: a file an instrument. They are offered to be joined. */
export const PASSES: DemoStandIn = {
  standIn: 'band',
  settings: {
    chart: 'Am | Dm | E7 | Am',
    style: 'river',
    choruses: 1,
    bpm: 92,
    seed: 41,
    parts: ['Bass', 'Keys', 'Guitar'],
  },
  contributor: COMPOSER,
  file: 'Quay at noon',
};

/** What came with the passes and is no music. */
export const NO_MUSIC = {
  file: 'Quay at noon/read me first.txt',
  text: 'Bring the long oar. The ferry leaves at noon.',
};

export interface DemoRecording extends DemoStandIn {
  clock: RecordingClock;
  /** Bars after which "that one" was pressed. */
  marks?: number[];
  /** How much slower it goes at the end than at the beginning, in shares. */
  slowing?: number;
  recordedAt: string;
}

/** Takes that were recorded live, the last one newest. */
export const RECORDINGS: DemoRecording[] = [
  {
    standIn: 'drum-player',
    settings: { style: 'waltz', bpm: 132, sections: 'verse 8', seed: 42 },
    mishaps: ['hungNote'],
    contributor: PERCUSSIONIST,
    file: 'Goose brushes',
    clock: 'click',
    recordedAt: '2026-02-03T16:20:00.000Z',
  },
  {
    standIn: 'chord-player',
    settings: { key: 'F', progression: '1 6 4 5', rhythm: 'push into four', bpm: 76, bars: 8, seed: 43 },
    contributor: COMPOSER,
    file: 'Harbor chords, played freely',
    clock: 'none',
    recordedAt: '2026-02-03T17:05:00.000Z',
  },
  {
    standIn: 'band',
    settings: { chart: 'F | Dm | Bb | C7', style: 'river', choruses: 3, bpm: 92, seed: 48, looseness: 8 },
    contributor: COMPOSER,
    file: 'Lamps going out, slower and slower',
    clock: 'none',
    slowing: 0.14,
    recordedAt: '2026-02-03T17:40:00.000Z',
  },
  {
    standIn: 'band',
    settings: { chart: 'Dm | C | Bb | A7', style: 'river', choruses: 2, bpm: 96, seed: 44 },
    mishaps: ['tailBars'],
    contributor: COMPOSER,
    file: 'Ferry band, with an ending nobody asked for',
    clock: 'click',
    recordedAt: '2026-02-04T10:12:00.000Z',
  },
  {
    standIn: 'arpeggiator',
    settings: { chart: 'Dm | Dm | Bb | C | Gm | Gm | A7 | Dm', bpm: 112, octaves: 2, rate: '1/16', seed: 45 },
    contributor: COMPOSER,
    file: 'Lantern arpeggio',
    clock: 'click',
    marks: [4, 8],
    recordedAt: '2026-02-04T10:31:00.000Z',
  },
];

/** What was put right on two takes of one source: its third has the same to be done, and one proposal does it. */
export const USUAL: { takes: string[]; name: string; program: number } = {
  takes: ['Snow in the wings', 'Lantern chords 96bpm Dm verse'],
  name: 'Squeezebox',
  /** Accordion, counted from 0. */
  program: 21,
};

/** A recipe kept under a name, and the tag of the phrases it is meant for: looked at, not applied. */
export const NIGHT_PRESET: { name: string; tag: string; recipe: Recipe } = {
  name: 'Night, softer and loose',
  tag: 'night',
  recipe: {
    version: 1,
    steps: [
      { step: 'doubles', ms: 10 },
      { step: 'quantize', grid: '1/16', strength: 0.6, swing: 'keep' },
      { step: 'velocity', loud: 0.62, range: 0.8, ghosts: 20 },
      { step: 'humanize', ms: 5, velocity: 3, seed: 7 },
      { step: 'controls', mode: 'settle' },
      { step: 'resolution', ppq: 960 },
    ],
  },
};

/** A phrase whose way of playing is kept as a feel. */
export const KEPT_FEEL = { phrase: 'Oars on the beat', name: 'Oars, pulled' };

/** A tune that was played in alone, without any chords: MIDI pitches with their beats. */
export const PLAYED_TUNE = {
  name: 'Goose tune',
  file: 'goose_tune.mid',
  project: 2,
  contributor: COMPOSER,
  tags: ['winter', 'tune'],
  /** Pitch and beats, as they come. */
  notes: '71:1 76:1 73:1 72:1 70:1 71:1 69:1 72:1 71:1 66:2 65:1 67:1 71:1 76:1 72:2 69:1 71:1 69:1 66:1 64:3'
    .split(' ')
    .map((note) => note.split(':').map(Number) as [pitch: number, beats: number]),
};

/** A weave a show: its sections, and which phrase each part plays in which of them. */
export interface DemoWeave {
  title: string;
  /** Place of its show. */
  project: number;
  ending: WeaveEnding;
  sections: {
    name: string;
    bars: number;
    times?: number;
    changes?: string;
    meter?: [number, number];
    energy: number;
  }[];
  /** Phrases by the name of the section; `fill` leads out of the first section that plays it. */
  parts: { name: string; role: Role; phrases: Record<string, string>; fill?: Record<string, string> }[];
}

export const WEAVES: readonly DemoWeave[] = [
  {
    ...{ title: 'Crossing by lantern', project: 0, ending: 'ring' },
    sections: [
      { name: 'shore', bars: 4, energy: 1 },
      { name: 'verse', bars: 8, changes: 'Dm | Bb | Gm | A7', energy: 2 },
      { name: 'refrain', bars: 8, changes: 'Bb | C | Am | Dm', energy: 4 },
      { name: 'verse', bars: 8, changes: 'Dm | Bb | Gm | A7', energy: 3 },
    ],
    parts: [
      {
        ...{ name: 'Kit', role: 'drums' },
        phrases: { verse: 'Oars on the beat', refrain: 'Street at dusk' },
        fill: { verse: 'Barrow goes over' },
      },
      { name: 'Bass', role: 'bass', phrases: { verse: 'Ferry bass, low walk', refrain: 'Lamp pole' } },
      { name: 'Keys', role: 'keys', phrases: { verse: 'Ferry chords, open', refrain: 'Lamplighter rise' } },
      { name: 'Guitar', role: 'guitar', phrases: { refrain: 'Rope strum' } },
      { name: 'Pad', role: 'pad', phrases: { shore: 'Fog over water', refrain: 'Fog over water' } },
    ],
  },
  {
    ...{ title: 'Stalls open', project: 1, ending: 'stop' },
    sections: ['A', 'A', 'B', 'A'].map((name) => ({
      ...{ name, bars: 8 },
      ...(name === 'A'
        ? { changes: 'G | C | D7 | G', energy: 3 }
        : { changes: 'Em | Am | D7 | G', energy: 2 }),
    })),
    parts: [
      { name: 'Kit', role: 'drums', phrases: { A: 'Market shuffle with fill', B: 'Brush steps' } },
      { name: 'Bass', role: 'bass', phrases: { A: 'Salt two-step', B: 'Quarrel, low voice' } },
      { name: 'Guitar', role: 'guitar', phrases: { A: 'Thistle strum', B: 'Thistle bridge' } },
      { name: 'Keys', role: 'keys', phrases: { A: 'Barrow chords' } },
    ],
  },
  {
    ...{ title: 'The goose winds the clock', project: 2, ending: 'slower' },
    sections: [
      { name: 'clock', bars: 4, energy: 1 },
      { name: 'waltz', bars: 8, times: 2, changes: 'Em | Am | B7 | Em', energy: 3 },
      { name: 'march', bars: 8, changes: 'G | D7 | Em | B7', meter: [4, 4], energy: 5 },
      { name: 'home', bars: 8, changes: 'Em | Am | B7 | Em', meter: [3, 4], energy: 2 },
    ],
    parts: [
      { name: 'Tune', role: 'lead', phrases: { waltz: 'Goose tune', home: 'Goose tune' } },
      { name: 'Kit', role: 'drums', phrases: { waltz: 'Clock case', march: 'Stalls open, kit' } },
      {
        name: 'Bass',
        role: 'bass',
        phrases: { waltz: 'Goose pedal point', march: 'Lamp pole', home: 'Pendulum' },
      },
      {
        ...{ name: 'Keys', role: 'keys' },
        phrases: { clock: 'Clock escapement', waltz: 'Goose clock waltz', march: 'Quarrel, high voice' },
      },
      { name: 'Pad', role: 'pad', phrases: { home: 'Hall of clocks' } },
    ],
  },
];

/** Who gets the music: each has something else at their place. */
export const RECIPIENTS: readonly { name: string; card: Partial<Card> }[] = [
  {
    // A kit whose pieces are on keys of its own, played a little softer.
    name: 'The percussionist',
    card: {
      drumMap: [
        [36, 24],
        [38, 26],
        [42, 31],
        [46, 33],
        [49, 40],
      ],
      roles: { drums: { loud: 0.9 }, percussion: { loud: 0.85 } },
      format: 0,
      previews: true,
    },
  },
  {
    name: 'The copyist',
    card: { reads: 'score', layout: 'flat', as: 'each', middleC: 3 },
  },
  {
    // Sounds that speak late are played early; every part leaves headroom.
    name: 'The string player',
    card: {
      roles: {
        strings: { loud: 0.6, ms: -100, low: 36, high: 96 },
        pad: { loud: 0.6, ms: -80 },
        guitar: { loud: 0.75, range: 0.5, ms: -30 },
        keys: { loud: 0.8, length: 1.15 },
      },
      headroomDb: 5,
      pedal: false,
    },
  },
];

/** What is gathered, for which project, and for whom. */
export const BASKETS: readonly {
  name: string;
  project: number;
  recipient?: string;
  pattern: string;
  /** In their order, under headings; some leave in a way of their own. */
  phrases: readonly (string | { heading: string } | { phrase: string; own: OwnOut })[];
}[] = [
  {
    name: 'For the percussionist',
    project: 0,
    recipient: 'The percussionist',
    pattern: '{number}_{name}_{role}_{tempo}',
    phrases: [
      { heading: 'Grooves to learn' },
      { phrase: 'Oars on the beat', own: { bpm: 72, fitting: 'plain' } },
      'Street at dusk',
      { heading: 'To play along with' },
      'Ferry bass, low walk',
      'Crossing verse, bass',
      'Crossing verse, keys',
      'Crossing verse, kit',
    ],
  },
  {
    name: 'Market, first act',
    project: 1,
    recipient: 'The string player',
    pattern: '{project}_{role}_{bars}bar_{tempo}_{key}_{number}',
    phrases: ['Market shuffle with fill', 'Salt two-step', 'Thistle strum', 'Barrow goes over'],
  },
  {
    name: 'For the copyist',
    project: 2,
    recipient: 'The copyist',
    pattern: '{number}_{name}_{meter}_{key}',
    phrases: ['Goose clock waltz', 'Goose pedal point', 'Harp of frost'],
  },
];
