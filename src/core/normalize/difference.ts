import type { Key } from '../music/key.ts';
import { msPerQuarter } from '../music/timeline.ts';
import { bpmOfClip, type Clip, type ClipNote } from '../phrase/clip.ts';
import { median } from '../numbers.ts';
import { loudMark } from './step.ts';

/** What a recipe would change about a phrase, in figures that can stand in a row. */
export interface Difference {
  notes: { before: number; after: number };
  /** Notes that begin elsewhere, and by how many milliseconds: at the median, and the farthest. */
  moved: number;
  movedMs: number;
  farthestMs: number;
  /** Where the loud notes (95th percentile) lie. */
  loud: { before: number; after: number };
  /** Semitones that all go by; and notes that go by others. */
  semitones: number;
  repitched: number;
  key: { before: Key | null; after: Key | null };
}

/** What parts one state of a phrase from another, by the captured notes both have. */
export function differenceOf(before: Clip, after: Clip): Difference {
  const was = new Map(before.notes.map((note) => [note.origin, note]));
  const pairs = after.notes.flatMap((note): [ClipNote, ClipNote][] => {
    const old = was.get(note.origin);
    return old ? [[old, note]] : [];
  });
  const perQuarter = msPerQuarter(bpmOfClip(after));
  const quarters = (tick: number, clip: Clip) => (tick - clip.pickup) / clip.timeline.ppq;
  const moves = pairs
    .map(([old, now]) => Math.abs(quarters(now.tick, after) - quarters(old.tick, before)) * perQuarter)
    .filter((ms) => ms >= 0.5);
  const steps = pairs.map(([old, now]) => now.pitch - old.pitch);
  const semitones = commonest(steps);
  const loud = (clip: Clip) => Math.round(loudMark(clip.notes));
  return {
    notes: { before: before.notes.length, after: after.notes.length },
    moved: moves.length,
    movedMs: tenth(median(moves)),
    farthestMs: tenth(Math.max(0, ...moves)),
    loud: { before: loud(before), after: loud(after) },
    semitones,
    repitched: steps.filter((step) => step !== semitones).length,
    key: { before: before.key, after: after.key },
  };
}

function tenth(value: number): number {
  return Math.round(value * 10) / 10;
}

function commonest(values: readonly number[]): number {
  const counts = new Map<number, number>();
  for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1);
  return [...counts].reduce((best, one) => (one[1] > best[1] ? one : best), [0, 0])[0];
}

/** Whether nothing would change. */
export function isSame(difference: Difference): boolean {
  const { notes, moved, loud, semitones, repitched } = difference;
  return (
    notes.before === notes.after &&
    moved === 0 &&
    loud.before === loud.after &&
    semitones === 0 &&
    repitched === 0
  );
}

/** From how many times the usual spread on a difference is pointed out. */
const UNUSUAL = 3;

/** Whether a score is worth a look before anything is done. */
export function isFlag(score: number): boolean {
  return score >= UNUSUAL;
}

/**
 * How unusual each difference is among the others, 0 for the usual: how many times the usual spread (the median distance
 * from the median) its figures lie from the middle, the farthest figure counting. What loses or gains notes stands out
 * by itself.
 */
export function outlierScores(differences: readonly Difference[]): number[] {
  const figures: ((d: Difference) => number)[] = [
    (d) => Math.abs(d.notes.after - d.notes.before) / Math.max(1, d.notes.before),
    (d) => d.movedMs,
    (d) => d.farthestMs,
    (d) => d.moved / Math.max(1, d.notes.before),
    (d) => d.loud.after - d.loud.before,
    (d) => Math.abs(d.semitones),
    (d) => d.repitched / Math.max(1, d.notes.before),
  ];
  const smallest = [0.05, 4, 8, 0.15, 6, 3, 0.03];
  const columns = figures.map((figure, c) => {
    const values = differences.map(figure);
    const middle = median(values);
    const spread = Math.max(median(values.map((value) => Math.abs(value - middle))), smallest[c]!);
    return values.map((value) => Math.abs(value - middle) / spread);
  });
  return differences.map((_, i) => tenth(Math.max(...columns.map((column) => column[i]!))));
}
