import type { Take } from '../capture/take.ts';
import { splitAtMovingPoint } from './split-point.ts';

/** A tenth, in semitones: what a hand spans at ease (common practice). */
const TENTH = 16;

/** Left hand below, right hand above. */
export function twoHands(take: Take, indices: readonly number[]): { left: number[]; right: number[] } {
  const { below, above } = splitAtMovingPoint(take, indices, (left, right) => {
    const reach = (hand: readonly number[]) => Math.max(0, spanOf(hand) - TENTH) * 0.5;
    const fingers = (hand: readonly number[]) => Math.max(0, hand.length - 5) * 2;
    return reach(left) + reach(right) + fingers(left) + fingers(right);
  });
  return { left: below, right: above };
}

/** A line of single notes at the bottom, a line at the top, and what lies between them. Each may be empty. */
export function bassChordsTop(
  take: Take,
  indices: readonly number[],
): { bass: number[]; chords: number[]; top: number[] } {
  const low = splitAtMovingPoint(take, indices, (bass, rest) => single(bass) + togetherness(rest, bass));
  const high = splitAtMovingPoint(take, low.above, (rest, top) => single(top) + togetherness(rest, top));
  return { bass: low.below, chords: high.below, top: high.above };
}

/** A line has one note at a time: a second one is dear. */
function single(line: readonly number[]): number {
  return Math.max(0, line.length - 1) * 8;
}

/** A chord torn apart costs more the closer its notes lie; a lone note costs nothing on either side. */
function togetherness(rest: readonly number[], line: readonly number[]): number {
  if (rest.length === 0 || line.length === 0) return 0;
  const gap = Math.max(rest[0]!, line[0]!) - Math.min(rest.at(-1)!, line.at(-1)!);
  return Math.max(0, 8 - Math.abs(gap)) * 0.5;
}

function spanOf(hand: readonly number[]): number {
  return hand.length === 0 ? 0 : hand.at(-1)! - hand[0]!;
}
