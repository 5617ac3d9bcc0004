import { analyzeTake, harmonyOf, type Analysis, type Harmony } from '../analyze/analysis.ts';
import { findBeginning, type Edges } from '../analyze/edges.ts';
import type { Take } from '../capture/take.ts';
import { byHandOf, type ByHand } from '../split/by-hand.ts';
import type { Correction } from '../split/corrections.ts';
import { toldAfter, type KeptReading, type Told } from '../analyze/reading.ts';
import { continueMoves, correctionsOf, type Move } from '../split/moves.ts';
import type { Split } from '../split/split.ts';
import { OF_HARMONY, touchedBy, type Touch } from '../split/touches.ts';

/**
 * A take that is worked on: the original, its first split, and what was done to both. What is derived from it is worked
 * out when it is asked for, and kept for as long as nothing is touched that it depends on.
 */
export interface OpenedTake {
  /** As corrected. */
  take: Take;
  split: Split;
  /** Those that are done. */
  moves: readonly Move[];
  /** What it was told by older methods, as some moves had left it. */
  kept: readonly KeptReading[];
  /** Of everything that moves can touch, the same object for as long as none did. */
  touched: Readonly<Partial<Record<Touch, object>>>;
  /** What was derived, with the objects it stands on: shared with the states before and after it. */
  derived: Map<Derivation<unknown>, { standsOn: readonly (object | undefined)[]; value: unknown }>;
}

/** Something that is found in an opened take, and what it depends on. */
export interface Derivation<Value> {
  dependsOn: readonly Touch[];
  find: (opened: OpenedTake) => Value;
}

/** A take as some moves have left it. `first` is the split that they stand on. @throws MoveError */
export function openTake(
  original: Take,
  first: Split,
  moves: readonly Move[] = [],
  kept: readonly KeptReading[] = [],
): OpenedTake {
  const { take, split } = continueMoves(original, first, moves);
  return { take, split, moves, kept, touched: {}, derived: new Map() };
}

/** The take after one more move; the given one is untouched. @throws MoveError */
export function afterMove(opened: OpenedTake, move: Move): OpenedTake {
  const { take, split } = continueMoves(opened.take, opened.split, [move]);
  const touched = { ...opened.touched };
  for (const touch of touchedBy(move)) touched[touch] = {};
  return { ...opened, take, split, moves: [...opened.moves, move], touched };
}

/** What is derived from a take: found once, until a move touches what it depends on. */
export function derive<Value>(opened: OpenedTake, derivation: Derivation<Value>): Value {
  const standsOn = derivation.dependsOn.map((touch) => opened.touched[touch]);
  const known = opened.derived.get(derivation);
  if (known?.standsOn.every((object, k) => object === standsOn[k])) return known.value as Value;
  const value = derivation.find(opened);
  opened.derived.set(derivation, { standsOn, value });
  return value;
}

const HARMONY: Derivation<Harmony> = {
  dependsOn: OF_HARMONY,
  find: (opened) => harmonyOf(opened.take, opened.split, byHandIn(opened), toldIn(opened)),
};

/** Chords and keys of a take, with what was said by hand over what is found. */
export function harmonyIn(opened: OpenedTake): Harmony {
  return derive(opened, HARMONY);
}

const ANALYSIS: Derivation<Analysis> = {
  dependsOn: OF_HARMONY,
  find: (opened) =>
    analyzeTake(opened.take, opened.split, { byHand: byHandIn(opened), told: toldIn(opened) }),
};

/** All that is found in its music, with what was said by hand over it. */
export function analysisIn(opened: OpenedTake): Analysis {
  return derive(opened, ANALYSIS);
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
