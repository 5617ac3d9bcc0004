import { PPQ, type Played } from './performance.ts';
import { seededRandom } from '../random.ts';

/** How a hand plays. */
export interface HandSetting {
  seed: number;
  bpm: number;
  /** How far it strays, in milliseconds (95 % of the notes). 0 plays like a machine. */
  looseness: number;
  /** Long share of a pair of eighths: 0.5 straight. */
  swing: number;
}

/** Strays a little in time and force, the same way for the same seed, and swings the eighths between beats. */
export function makeHand({ seed, bpm, looseness, swing }: HandSetting): (note: Played) => Played {
  const random = seededRandom(seed);
  const spread = ((looseness / 1000) * bpm * PPQ) / 60;
  // The sum of three even draws is close enough to a bell curve for a hand.
  const stray = () => (random() + random() + random() - 1.5) / 1.5;
  return (note) => ({
    ...note,
    tick: Math.max(0, Math.round(swung(note.tick, swing) + stray() * spread)),
    length: Math.max(1, Math.round(note.length)),
    velocity: Math.min(127, Math.max(1, Math.round(note.velocity + (looseness > 0 ? stray() * 9 : 0)))),
  });
}

/** Where a straight tick lies when eighths are swung. */
export function swung(tick: number, swing: number): number {
  const inBeat = tick % PPQ;
  const middle = PPQ / 2;
  const moved =
    inBeat < middle
      ? (inBeat / middle) * PPQ * swing
      : PPQ * swing + ((inBeat - middle) / middle) * PPQ * (1 - swing);
  return tick - inBeat + moved;
}

/** Each step of a pattern that is not ".": its number and its mark. */
export function eachStep(pattern: string, play: (step: number, mark: string) => void): void {
  [...pattern].forEach((mark, step) => mark !== '.' && play(step, mark));
}
