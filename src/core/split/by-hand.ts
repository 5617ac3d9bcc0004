import type { Section } from '../music/form.ts';
import type { Key } from '../music/key.ts';
import { tickAfter, isCorrection } from './corrections.ts';
import { singleMoves, type Move } from './moves.ts';

/** A chord that a person has written over some time, as a symbol; empty for no chord. */
export interface WrittenChord {
  fromTick: number;
  toTick: number;
  symbol: string;
}

/** What people have said of the music of a take. It wins over what is found. */
export interface ByHand {
  /** The key of the whole. */
  key: Key | null;
  chords: WrittenChord[];
  sections: Section[] | null;
}

/** What moves say of the music, in the time that the last of them leaves. */
export function byHandOf(moves: readonly Move[]): ByHand {
  const singles = singleMoves(moves);
  const said: ByHand = { key: null, chords: [], sections: null };
  const corrections = singles.filter(isCorrection);
  let done = 0;
  singles.forEach((move) => {
    if (isCorrection(move)) done++;
    if (move.move === 'chooseKey') said.key = move.key;
    if (move.move === 'sections') said.sections = move.sections;
    if (move.move !== 'chord') return;
    const fromTick = tickAfter(move.fromTick, corrections, done);
    const toTick = tickAfter(move.toTick, corrections, done);
    if (toTick <= fromTick) return;
    // What was written over before is cut away.
    said.chords = said.chords.flatMap((chord) => without(chord, fromTick, toTick));
    if (move.symbol !== null) said.chords.push({ fromTick, toTick, symbol: move.symbol });
  });
  said.chords.sort((a, b) => a.fromTick - b.fromTick);
  return said;
}

function without(chord: WrittenChord, fromTick: number, toTick: number): WrittenChord[] {
  const before = { ...chord, toTick: Math.min(chord.toTick, fromTick) };
  const after = { ...chord, fromTick: Math.max(chord.fromTick, toTick) };
  return [before, after].filter((rest) => rest.toTick > rest.fromTick);
}
