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
  /** Channel of the drums, from 0. Real devices do not always use the tenth. */
  drumChannel: number;
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
    drumChannel: 9,
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
    drumChannel: 0,
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
    drumChannel: 9,
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
