import { bpmOfClip, isPitched, type Clip, type ClipNote } from './clip.ts';

/** A place where a note and another part's do not go together. */
export interface Clash {
  /** Origin of the note it is about. */
  note: number;
  kind: 'semitone' | 'hit';
  /** Which of the other parts. */
  other: number;
}

/** Shorter than this, in quarter notes, two neighbors pass by each other. */
const PASSING = 1 / 8;

/** Two hits within so many milliseconds are on one beat. */
const ONE_BEAT_MS = 30;

/**
 * Where a part clashes with others that sound with it: a semitone, or an octave and a semitone, sounding together; one drum
 * struck by both on one beat. All from bar one, in the keys they are heard in. Common practice.
 */
export function clashesOf(own: Clip, others: readonly Clip[]): Clash[] {
  return others.flatMap((other, index) => {
    const kind = isPitched(own) && isPitched(other) ? 'semitone' : 'hit';
    if (kind === 'hit' && (isPitched(own) || isPitched(other))) return [];
    const theirs = other.notes.map((note) => placed(note, other));
    const slack = (ONE_BEAT_MS * bpmOfClip(own)) / 60_000;
    return own.notes
      .filter((note) => {
        const mine = placed(note, own);
        return theirs.some((their) =>
          kind === 'semitone' ? rubs(mine, their) : their.pitch === mine.pitch && isNear(mine, their, slack),
        );
      })
      .map((note) => ({ note: note.origin, kind, other: index }));
  });
}

interface Placed {
  pitch: number;
  /** Quarter notes from bar one. */
  from: number;
  to: number;
}

function placed({ tick, duration, pitch }: ClipNote, { pickup, timeline: { ppq } }: Clip): Placed {
  return { pitch, from: (tick - pickup) / ppq, to: (tick - pickup + duration) / ppq };
}

function rubs(a: Placed, b: Placed): boolean {
  const apart = Math.abs(a.pitch - b.pitch);
  return (apart === 1 || apart === 13) && Math.min(a.to, b.to) - Math.max(a.from, b.from) > PASSING;
}

function isNear(a: Placed, b: Placed, slack: number): boolean {
  return Math.abs(a.from - b.from) <= slack;
}
