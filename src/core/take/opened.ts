import { harmonyOf, type Harmony } from '../analyze/analysis.ts';
import { findBeginning, type Edges } from '../analyze/edges.ts';
import type { Take } from '../capture/take.ts';
import { byHandOf, type ByHand } from '../split/by-hand.ts';
import type { Correction } from '../split/corrections.ts';
import { toldAfter, type KeptReading, type Told } from '../analyze/reading.ts';
import { continueMoves, correctionsOf, type Move } from '../split/moves.ts';
import type { Split } from '../split/split.ts';
import { touches, type Touch } from '../split/touches.ts';

/**
 * A take that is worked on: the original, its first split, and what was done to both. What is derived from it is worked
 * out when it is asked for, and kept for as long as it still holds.
 */
export interface OpenedTake {
  /** As corrected. */
  take: Take;
  split: Split;
  /** Those that are done. */
  moves: readonly Move[];
  /** What it was told by older methods, as some moves had left it. */
  kept: readonly KeptReading[];
  /** The same object for as long as nothing that sounds was touched: what is found in the music is kept by it. */
  music: object;
}

/** A take as some moves have left it. `first` is the split that they stand on. @throws MoveError */
export function openTake(
  original: Take,
  first: Split,
  moves: readonly Move[] = [],
  kept: readonly KeptReading[] = [],
): OpenedTake {
  const { take, split } = continueMoves(original, first, moves);
  return { take, split, moves, kept, music: {} };
}

/** The take after one more move; the given one is untouched. @throws MoveError */
export function afterMove(opened: OpenedTake, move: Move): OpenedTake {
  const { take, split } = continueMoves(opened.take, opened.split, [move]);
  const music = touches(move, OF_THE_MUSIC) ? {} : opened.music;
  return { ...opened, take, split, moves: [...opened.moves, move], music };
}

const OF_THE_MUSIC: ReadonlySet<Touch> = new Set<Touch>(['heard', 'said']);

const harmonies = new WeakMap<object, Harmony>();

/** Chords and keys of a take, with what was said by hand over what is found. */
export function harmonyIn(opened: OpenedTake): Harmony {
  let found = harmonies.get(opened.music);
  if (!found) {
    found = harmonyOf(opened.take, opened.split, byHandIn(opened), toldIn(opened));
    harmonies.set(opened.music, found);
  }
  return found;
}

/** How it begins: silence, count-in, pickup. */
export function beginningIn({ take, split }: OpenedTake): Omit<Edges, 'tailBars'> {
  return findBeginning(take, split);
}

/** What people have said of its music. */
export function byHandIn({ moves }: OpenedTake): ByHand {
  return byHandOf(moves);
}

/** What was put right in its notes. */
export function correctionsIn({ moves }: OpenedTake): Correction[] {
  return correctionsOf(moves);
}

/** What it was told where it stands, by an older method than today's. */
export function toldIn({ kept, moves }: OpenedTake): Told | undefined {
  return toldAfter(kept, moves);
}
