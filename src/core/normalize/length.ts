import { withPlace } from '../phrase/clip.ts';
import { changedNotes, type Step } from './step.ts';

export interface LengthParams {
  /** Factor on every note's length: below 1 is shorter, above longer. */
  factor: number;
}

/** Makes every note shorter or longer. Nothing becomes silent, and nothing sounds past the end that did not before. */
export const setLength: Step<LengthParams> = (clip, { factor }) => {
  const notes = clip.notes.map((note) => {
    const wanted = Math.round(note.duration * factor);
    const room = Math.max(note.duration, clip.length - note.tick);
    return withPlace(note, note.tick, Math.max(Math.min(wanted, room), Math.min(note.duration, 1)));
  });
  return changedNotes(clip, { ...clip, notes }, (changed, of) =>
    factor === 1 ? 'as played' : `${changed} of ${of} notes at ${Math.round(factor * 100)} % of their length`,
  );
};
