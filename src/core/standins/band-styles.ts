import type { KitPiece } from '../midi/gm.ts';

/**
 * Patterns of the band stand-in. A pattern is one bar of sixteenths, a character each: "." nothing, "x" a
 * note, "X" an accent, "o" a ghost note. In a bass pattern the digit is the chord tone (1 root, 2 third,
 * 3 fifth, 4 seventh or octave).
 */
export interface BandStyle {
  title: string;
  meter: { numerator: number; denominator: number };
  /** Long share of a pair of eighths: 0.5 straight. */
  swing: number;
  drums: Partial<Record<KitPiece, string>>;
  /** Played instead in the last bar of every four. */
  fill: Partial<Record<KitPiece, string>>;
  bass: string;
  keys: string;
  guitar: string;
  programs: { bass: number; keys: number; guitar: number; pad: number };
}

export const BAND_STYLES = {
  river: {
    title: 'River',
    meter: { numerator: 4, denominator: 4 },
    swing: 0.5,
    drums: {
      kick: 'X.....x.x.......',
      snare: '....X..o....X..o',
      'closed hat': 'x.x.x.x.x.x.x.x.',
      ride: '................',
    },
    fill: {
      kick: 'X.....x.x.......',
      snare: '....X.....x.xxXX',
      'closed hat': 'x.x.x.x.........',
      toms: '........x.x.....',
    },
    bass: '1.....1.3...1.2.',
    keys: 'X.....x...x.....',
    guitar: '..x...x...x.x.x.',
    programs: { bass: 33, keys: 4, guitar: 24, pad: 89 },
  },
  market: {
    title: 'Market shuffle',
    meter: { numerator: 4, denominator: 4 },
    swing: 0.62,
    drums: {
      kick: 'X.......X.......',
      'side stick and clap': '....x.......x...',
      'closed hat': '....x.......x...',
      ride: 'X.x.X.x.X.x.X.x.',
    },
    fill: {
      kick: 'X.......X.......',
      snare: '....X.x.X.x.X.xX',
      ride: 'X.x.............',
    },
    bass: '1...3...1...2.3.',
    keys: '....X.......X.x.',
    guitar: '..x...x...x...x.',
    programs: { bass: 32, keys: 3, guitar: 25, pad: 48 },
  },
  clockwork: {
    title: 'Clockwork waltz',
    meter: { numerator: 3, denominator: 4 },
    swing: 0.5,
    drums: {
      kick: 'X...........',
      'side stick and clap': '....x...x...',
      'closed hat': 'x.x.x.x.x.x.',
    },
    fill: {
      kick: 'X...........',
      snare: '....x.x.xxXX',
      crash: '............',
    },
    bass: '1.......3...',
    keys: '....x...x...',
    guitar: 'x.x.x.x.x.x.',
    programs: { bass: 32, keys: 10, guitar: 46, pad: 52 },
  },
  barcarole: {
    title: 'Barcarole',
    meter: { numerator: 6, denominator: 8 },
    swing: 0.5,
    drums: {
      kick: 'X.....x.....',
      'side stick and clap': '......x.....',
      'closed hat': 'x.x.x.x.x.x.',
    },
    fill: {
      kick: 'X.....x.....',
      toms: '......x.x.X.',
      'closed hat': 'x.x.x.......',
    },
    bass: '1.....3...1.',
    keys: '..x.x...x.x.',
    guitar: 'x.x.x.x.x.x.',
    programs: { bass: 32, keys: 0, guitar: 24, pad: 49 },
  },
  parade: {
    title: 'Parade',
    meter: { numerator: 4, denominator: 4 },
    swing: 0.5,
    drums: {
      kick: 'X...x...X...x...',
      snare: 'x.xxX.x.x.xxX.xx',
      crash: '................',
    },
    fill: {
      kick: 'X...x...X...x...',
      snare: 'XxxxXxxxXxxxXXXX',
    },
    bass: '1...3...1...3...',
    keys: '..x...x...x...x.',
    guitar: '..x...x...x...x.',
    programs: { bass: 58, keys: 61, guitar: 105, pad: 52 },
  },
  nightboat: {
    title: 'Night boat swing',
    meter: { numerator: 4, denominator: 4 },
    swing: 0.66,
    drums: {
      kick: 'x...x...x...x...',
      'pedal hat': '....x.......x...',
      ride: 'X...X.x.X...X.x.',
      snare: '......o.......o.',
    },
    fill: {
      kick: 'x...x...x...x...',
      snare: '....X.x.X.x.X.x.',
      ride: 'X...............',
    },
    bass: '1...2...3...2...',
    keys: '......x.....x...',
    guitar: 'x...x...x...x...',
    programs: { bass: 32, keys: 0, guitar: 26, pad: 48 },
  },
} as const satisfies Record<string, BandStyle>;

export type BandStyleName = keyof typeof BAND_STYLES;

/** The GM pitch with which the band plays each piece of the kit. */
export const BAND_KIT: Record<KitPiece, number> = {
  kick: 36,
  snare: 38,
  'side stick and clap': 37,
  toms: 45,
  'closed hat': 42,
  'pedal hat': 44,
  'open hat': 46,
  ride: 51,
  crash: 49,
  percussion: 54,
};
