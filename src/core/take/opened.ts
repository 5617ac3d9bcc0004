import { harmonyOf, type Harmony } from '../analyze/analysis.ts';
import { findBeginning, type Edges } from '../analyze/edges.ts';
import type { Take } from '../capture/take.ts';
import { byHandOf, type ByHand } from '../split/by-hand.ts';
import type { Correction } from '../split/corrections.ts';
import { continueMoves, correctionsOf, singleMoves, type Move } from '../split/moves.ts';
import type { Split } from '../split/split.ts';

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
  /** The same object for as long as nothing that sounds was touched: what is found in the music is kept by it. */
  music: object;
}

/** A take as some moves have left it. `first` is the split that they stand on. @throws MoveError */
export function openTake(original: Take, first: Split, moves: readonly Move[] = []): OpenedTake {
  const { take, split } = continueMoves(original, first, moves);
  return { take, split, moves, music: {} };
}

/** The take after one more move; the given one is untouched. @throws MoveError */
export function afterMove(opened: OpenedTake, move: Move): OpenedTake {
  const { take, split } = continueMoves(opened.take, opened.split, [move]);
  const music = singleMoves([move]).some(touchesMusic) ? {} : opened.music;
  return { take, split, moves: [...opened.moves, move], music };
}

/** Moves that change names, sounds and what is offered, and nothing that is heard as harmony. */
const BESIDE_THE_MUSIC: ReadonlySet<Move['move']> = new Set<Move['move']>([
  'rename',
  'sound',
  'refuse',
  'nameTake',
  'recipe',
]);

function touchesMusic({ move }: Move): boolean {
  return !BESIDE_THE_MUSIC.has(move);
}

const harmonies = new WeakMap<object, Harmony>();

/** Chords and keys of a take, with what was said by hand over what is found. */
export function harmonyIn(opened: OpenedTake): Harmony {
  let found = harmonies.get(opened.music);
  if (!found) {
    found = harmonyOf(opened.take, opened.split, byHandIn(opened));
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
