import {
  endingAt,
  inMeter,
  isRetiming,
  originalTick,
  retimedTick,
  retimeTake,
  takeAsCaptured,
  type Retiming,
} from '../capture/retime.ts';
import type { Take } from '../capture/take.ts';
import { notesIn, type NoteSet } from './note-set.ts';

/** What a person has put right in the notes of a take: their time, or their pitch. The original stays as it came. */
export type Correction =
  /** The take on other bars; `how` says by what, for the history. */
  | ({ move: 'retime'; how: string } & Retiming)
  /** Another meter from a tick on (0: throughout), the notes as they are; what stood after it there is gone. */
  | { move: 'meter'; fromTick: number; numerator: number; denominator: number }
  /** It ends at a tick: silence after its last note is cut off. */
  | { move: 'end'; tick: number }
  /** The time it was captured in again. */
  | { move: 'asCaptured' }
  /** Notes so many semitones higher, or lower below 0. */
  | { move: 'repitch'; notes: NoteSet; by: number };

export function isCorrection<Move extends { move: string }>(move: Move): move is Move & Correction {
  return CORRECTIONS.has(move.move);
}

const CORRECTIONS: ReadonlySet<string> = new Set<Correction['move']>([
  'retime',
  'asCaptured',
  'meter',
  'end',
  'repitch',
]);

/** The take as it stands after corrections, the given one untouched. What makes no sense changes nothing. */
export function correctTake(take: Take, corrections: readonly Correction[]): Take {
  return corrections.reduce(corrected, take);
}

function corrected(take: Take, correction: Correction): Take {
  if (correction.move === 'retime') return isRetiming(correction) ? retimeTake(take, correction) : take;
  if (correction.move === 'asCaptured') return takeAsCaptured(take);
  if (correction.move === 'meter') return inMeter(take, correction);
  if (correction.move === 'end') return endingAt(take, correction.tick);
  const pitch = take.notes.pitch.slice();
  for (const i of notesIn(correction.notes))
    if (i < pitch.length) pitch[i] = Math.min(127, Math.max(0, pitch[i]! + correction.by));
  return { ...take, notes: { ...take.notes, pitch } };
}

/** Whether the notes stand on other bars than they were captured on. */
export function isRetimed(corrections: readonly Correction[]): boolean {
  return corrections.findLast(({ move }) => move === 'retime' || move === 'asCaptured')?.move === 'retime';
}

/** Where a tick is after the corrections from a place on; it is a tick of the time that those before it leave. */
export function tickAfter(tick: number, corrections: readonly Correction[], from: number): number {
  let at = tick;
  corrections.slice(from).forEach((correction, k) => {
    if (correction.move === 'retime') at = Math.round(retimedTick(correction, at));
    if (correction.move === 'asCaptured') {
      // Back through all that was done since the time was the captured one.
      const before = corrections.slice(0, from + k);
      const since = before.slice(before.findLastIndex(({ move }) => move === 'asCaptured') + 1);
      for (const one of [...since].reverse())
        if (one.move === 'retime') at = Math.round(originalTick(one, at));
    }
  });
  return at;
}
