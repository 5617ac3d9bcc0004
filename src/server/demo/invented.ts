import { trayOf, type TrayChord, type TrayGroup } from '../../core/harmonize/tray.ts';
import { keyName, MODE_STEPS, type Key, type Mode } from '../../core/music/key.ts';
import { pitchClass } from '../../core/music/pitch.ts';
import { RHYTHMS } from '../../core/music/rhythm.ts';
import { seededRandom } from '../../core/random.ts';
import { BAND_STYLES } from '../../core/standins/band-styles.ts';
import type { Performance } from '../../core/standins/performance.ts';
import { standInById } from '../../core/standins/stand-ins.ts';

/** A take that a stand-in plays by a seed, and which of its bars are phrases. */
export interface InventedTake {
  standIn: string;
  name: string;
  performance: Performance;
  /** First bar, from 1, and how many. */
  cuts: readonly (readonly [number, number])[];
}

/** Bars of every invented take, and of every phrase that is cut from it. */
const BARS = 16;
const BARS_OF_PHRASE = 4;

/** What may follow a chord that rests, is on the way or pulls (common practice: what pulls comes to rest more often than not). */
const NEXT: Readonly<Record<TrayGroup, readonly TrayGroup[]>> = {
  rest: ['way', 'way', 'pull', 'rest'],
  way: ['pull', 'pull', 'way', 'rest'],
  pull: ['rest', 'rest', 'rest', 'way'],
};

/** Modes by how often they are met, the common ones first. */
const OFTEN: readonly Mode[] = ['major', 'minor', 'major', 'minor', 'major', 'minor', 'dorian', 'mixolydian'];

interface Dice {
  /** One of some, by the seed. */
  pick<Item>(items: readonly Item[]): Item;
  /** A whole number, both ends among them. */
  between(low: number, high: number): number;
}

function diceOf(seed: number): Dice {
  const random = seededRandom(seed);
  const between = (low: number, high: number) => low + Math.floor(random() * (high - low + 1));
  return { between, pick: (items) => items[between(0, items.length - 1)]! };
}

/** What a stand-in plays by a seed: another seed is another chart, key, tempo, way of playing. */
export function inventedTake(seed: number): InventedTake {
  const dice = diceOf(seed);
  const key: Key = { tonic: dice.between(0, 11), mode: dice.pick(OFTEN) };
  const { standIn, settings } = dice.pick(PLAYERS)(dice, key);
  const { defaults, play } = standInById(standIn);
  const performance = play({
    ...defaults,
    bpm: dice.between(62, 176),
    looseness: dice.between(0, 24),
    seed: 1 + (seed % 9999),
    ...settings,
  });
  return {
    standIn,
    name: `${performance.title} ${seed}`,
    performance,
    cuts: Array.from({ length: Math.floor(performance.bars / BARS_OF_PHRASE) }, (_, k) => [
      1 + k * BARS_OF_PHRASE,
      BARS_OF_PHRASE,
    ]),
  };
}

type Player = (dice: Dice, key: Key) => { standIn: string; settings: Record<string, unknown> };

/** Who plays, and how: a band as often as everybody else together gives parts. */
const PLAYERS: readonly Player[] = [
  (dice, key) => {
    const style = dice.pick(Object.keys(BAND_STYLES) as (keyof typeof BAND_STYLES)[]);
    return { standIn: 'band', settings: { style, chart: chartIn(key, dice, 8), choruses: 1 } };
  },
  (dice, key) => ({
    standIn: 'arpeggiator',
    settings: {
      chart: chartIn(key, dice, BARS),
      order: dice.pick(['up', 'down', 'up and down', 'as held', 'random']),
      octaves: dice.between(1, 3),
      rate: dice.pick(['1/8', '1/8 triplet', '1/16', '1/16', '1/4']),
      gate: dice.between(30, 95),
      swing: dice.pick([50, 50, 56, 62, 66]),
    },
  }),
  (dice, key) => ({
    standIn: 'chord-player',
    settings: {
      key: keyName(key),
      progression: degreesOf(key, chordsIn(key, dice, 8)),
      stack: dice.pick(['triads', 'sevenths', 'ninths']),
      borrowed: dice.pick([true, false, false]),
      rhythm: dice.pick(Object.keys(RHYTHMS)),
      octave: dice.between(3, 5),
      bars: BARS,
    },
  }),
  (dice) => ({
    standIn: 'drum-player',
    settings: {
      style: dice.pick(['straight eighths', 'shuffle', 'waltz']),
      busy: dice.between(0, 100),
      fillEvery: dice.pick([4, 8, 0]),
      sections: `verse ${BARS}`,
    },
  }),
  (dice, key) => ({
    standIn: 'strummer',
    settings: {
      chord: chordsIn(key, dice, 1)[0]!.symbol,
      pattern: dice.pick(['campfire', 'two bars, pushed', 'sixteenths', 'swung eighths', 'waltz strum']),
      spread: dice.between(8, 50),
      bars: BARS,
    },
  }),
  (dice) => ({
    standIn: 'step-grid',
    settings: {
      kick: gridRow(dice, 'X...', 3),
      snare: gridRow(dice, '....X...', 1),
      clap: gridRow(dice, '........', 1),
      hat: gridRow(dice, 'x.x.', 4),
      open: gridRow(dice, '........', 1),
      bars: BARS,
    },
  }),
];

/** Chords of a key that follow each other as chords do, from one that rests. */
function chordsIn(key: Key, dice: Dice, count: number): TrayChord[] {
  const own = trayOf(key).filter(({ borrowed }) => borrowed === null);
  const line: TrayChord[] = [];
  for (let group: TrayGroup = 'rest'; line.length < count; group = dice.pick(NEXT[group]))
    line.push(dice.pick(own.filter((chord) => chord.group === group)));
  return line;
}

function chartIn(key: Key, dice: Dice, bars: number): string {
  return chordsIn(key, dice, bars)
    .map(({ symbol }) => symbol)
    .join(' | ');
}

/** The degrees of a key's own chords, as the chord player is told them. */
function degreesOf({ tonic, mode }: Key, chords: readonly TrayChord[]): string {
  return chords.map(({ chord }) => 1 + MODE_STEPS[mode].indexOf(pitchClass(chord.root - tonic))).join(' ');
}

/** A bar of sixteenths: a figure again and again, with so many more strokes somewhere at the most. */
function gridRow(dice: Dice, figure: string, more: number): string {
  const steps = [...figure.repeat(16 / figure.length)];
  for (let k = dice.between(0, more); k > 0; k--) steps[dice.between(0, 15)] = dice.pick(['x', 'o', 'x']);
  return steps.join('');
}
