import { isRetiming, retimedTick, retimeTake, type Retiming } from '../capture/retime.ts';
import type { Take } from '../capture/take.ts';
import { notesIn, type NoteSet } from './note-set.ts';

/** What a person has put right in the notes of a take: their time, or their pitch. The original stays as it came. */
export type Correction =
  /** The take on other bars; `how` says by what, for the history. */
  | ({ move: 'retime'; how: string } & Retiming)
  /** Notes so many semitones higher, or lower below 0. */
  | { move: 'repitch'; notes: NoteSet; by: number };

export function isCorrection<Move extends { move: string }>(move: Move): move is Move & Correction {
  return move.move === 'retime' || move.move === 'repitch';
}

/** The take as it stands after corrections, the given one untouched. What makes no sense changes nothing. */
export function correctTake(take: Take, corrections: readonly Correction[]): Take {
  return corrections.reduce(corrected, take);
}

function corrected(take: Take, correction: Correction): Take {
  if (correction.move === 'retime') return isRetiming(correction) ? retimeTake(take, correction) : take;
  const pitch = take.notes.pitch.slice();
  for (const i of notesIn(correction.notes))
    if (i < pitch.length) pitch[i] = Math.min(127, Math.max(0, pitch[i]! + correction.by));
  return { ...take, notes: { ...take.notes, pitch } };
}

/** Where a tick of one time is after later corrections of it. */
export function tickAfter(tick: number, corrections: readonly Correction[]): number {
  return corrections.reduce(
    (at, correction) => (correction.move === 'retime' ? Math.round(retimedTick(correction, at)) : at),
    tick,
  );
}
