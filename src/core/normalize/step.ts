import { percentile } from '../numbers.ts';
import { compareClipNotes, type Clip, type ClipNote } from '../phrase/clip.ts';
import type { Outside, Through } from '../through/through.ts';

/** What a step made of a clip, and its account of it. */
export interface StepResult {
  clip: Clip;
  /** Notes that are not as they were. */
  changed: number;
  /** In words, such as "38 of 64 notes moved, 9 ms at the median". */
  summary: string;
  /** Captured notes (their origins) that this step left out, and why. */
  setAside: { reason: string; origins: number[] }[];
  /** Notes that fall outside of the chords they went through, and changes under which nothing begins. */
  outside?: Outside[];
  unheard?: Through['unheard'];
}

/**
 * One normalizing step: a pure function of a clip and its parameters. The same clip and parameters give the
 * same result, always.
 */
export type Step<Params> = (clip: Clip, params: Params) => StepResult;

/**
 * The result of a step that only changes notes in place: `after` has them in the order of `before`, and the result in
 * order of time.
 */
export function changedNotes(
  before: Clip,
  after: Clip,
  summary: (changed: number, of: number) => string,
): StepResult {
  let changed = 0;
  let inOrder = true;
  after.notes.forEach((note, i) => {
    if (!sameNote(before.notes[i]!, note)) changed++;
    if (i > 0 && compareClipNotes(after.notes[i - 1]!, note) > 0) inOrder = false;
  });
  const clip = inOrder ? after : { ...after, notes: [...after.notes].sort(compareClipNotes) };
  return { clip, changed, summary: summary(changed, after.notes.length), setAside: [] };
}

function sameNote(a: ClipNote, b: ClipNote): boolean {
  return (
    a === b ||
    (a.tick === b.tick && a.duration === b.duration && a.pitch === b.pitch && a.velocity === b.velocity)
  );
}

/** The result of a step that found nothing to do, and says why. */
export function unchanged(clip: Clip, summary: string): StepResult {
  return { clip, changed: 0, summary, setAside: [] };
}

/** "1 note", "3 notes". */
export function count(n: number, what: string): string {
  return `${n} ${what}${n === 1 ? '' : 's'}`;
}

/** Where the loud notes of some lie: the velocity below which 95 % of them are. */
export function loudMark(notes: readonly { velocity: number }[]): number {
  return percentile(
    notes.map(({ velocity }) => velocity),
    0.95,
  );
}
