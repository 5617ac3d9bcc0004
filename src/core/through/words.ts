import type { HeardAs } from './heard-as.ts';
import type { Outside, OutsideCause } from './through.ts';
import type { MendWay } from './mends.ts';
import type { Way } from './pieces.ts';

/** The sentences of what goes through other chords: the one room that has them. */

const WAS: Readonly<Record<HeardAs, string>> = {
  chord: 'was a chord note',
  passing: 'was a passing note',
  neighbor: 'was a neighbor',
  leaning: 'was leaning on the note after it',
  suspension: 'was a suspension',
  approach: 'was a chromatic approach',
  pedal: 'was held through the chords',
  scale: 'was a note of the scale',
  free: 'was outside already',
  'no chord': 'had no chord under it',
};

const CAUSES: Readonly<Record<OutsideCause, (symbol: string) => string>> = {
  foreign: (symbol) => `neither in ${symbol} nor in its scale`,
  turned: () => 'goes the other way than it went',
  octaves: () => 'out of the octaves of its role',
  clash: (symbol) => `rubs against ${symbol}`,
};

/** Why a note is pointed out: "neither in A7 nor in its scale: was a passing note". */
export function outsideInWords({ cause, was, symbol }: Pick<Outside, 'cause' | 'was' | 'symbol'>): string {
  return `${CAUSES[cause](symbol)}: ${WAS[was]}`;
}

export const WAY_TITLES: Readonly<Record<Way, string>> = {
  voices: 'voice by voice',
  block: 'as a block',
  scale: 'in the scale',
};

export const MEND_TITLES: Readonly<Record<MendWay, string>> = {
  up: 'Chord note above',
  down: 'Chord note below',
  scale: 'In the scale',
  'as was': 'As it was',
  'octave up': 'An octave up',
  'octave down': 'An octave down',
  shorter: 'End at the change',
  out: 'Leave out',
  meant: 'Meant like this',
};
