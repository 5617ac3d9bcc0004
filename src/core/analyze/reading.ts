import stringify from 'fast-json-stable-stringify';
import type { Section } from '../music/form.ts';
import { sameKey } from '../music/key.ts';
import type { ByHand } from '../split/by-hand.ts';
import type { Move, SingleMove } from '../split/moves.ts';
import { heardMoves } from '../split/touches.ts';
import type { ChordFinding } from './chords.ts';
import type { KeyFinding } from './key.ts';
import type { KeySpan } from './key-spans.ts';
import type { PartLoop } from './part-loops.ts';

/**
 * What was found in the music of a take by one version of the methods, as plain data: it is kept once somebody has been told it, so
 * that bettered methods change nothing unasked. What people said by hand is not in it: that lies over it, then as now.
 */
export interface Reading {
  /** Version of the methods that found it. */
  method: number;
  keys: KeyFinding[];
  keySpans: KeySpan[];
  chords: ChordFinding[];
  loops: PartLoop[];
  sections: Section[];
}

/** What was told of a take: its keys in any case, since lists show them; the rest where somebody looked into it. */
export type Told = Pick<Reading, 'method' | 'keys'> & Partial<Reading>;

/** What was told of a take as some moves had left it. */
export interface KeptReading {
  /** Those moves that change what is heard. */
  moves: SingleMove[];
  told: Told;
}

/**
 * What finds keys, chords, loops and sections. Counted up where it finds otherwise than before: a test holds it against what
 * was found when it was last counted.
 */
export const READING_METHOD = 1;

/** What a take was told where it stands, by an older method; undefined where today's says the same or nothing was told. */
export function toldAfter(kept: readonly KeptReading[], moves: readonly Move[]): Told | undefined {
  if (kept.length === 0) return undefined;
  const state = heardState(heardMoves(moves));
  return kept.find((one) => heardState(one.moves) === state)?.told;
}

/** The same text for the same moves, in whatever order a database gives their fields back. */
export function heardState(heard: readonly SingleMove[]): string {
  return stringify(heard);
}

/** What is found, under today's version. */
export function readingOf({ keys, keySpans, chords, loops, sections }: Omit<Reading, 'method'>): Reading {
  return { method: READING_METHOD, keys, keySpans, chords, loops, sections };
}

/** What was told, and where nothing was, what is found today. */
export function completed(told: Told, today: Reading, bars: number): Reading {
  return { ...today, keySpans: spansOfKeys(told.keys, today.keySpans, bars), ...told };
}

/** Whether the keys that were told still say what they said: chords that were written since give other keys. */
export function keysStand(told: Told | undefined, byHand: ByHand | undefined): told is Told {
  return told !== undefined && (byHand?.chords.length ?? 0) === 0;
}

/** Spans where only keys were told: as they are found, or one span where the key that was told is not what is found. */
export function spansOfKeys([first]: readonly KeyFinding[], found: KeySpan[], bars: number): KeySpan[] {
  if (!first || (found[0] && sameKey(found[0], first))) return found;
  return [{ tonic: first.tonic, mode: first.mode, startBar: 1, bars }];
}
