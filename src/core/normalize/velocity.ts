import { kitPiece, type KitPiece } from '../midi/gm.ts';
import { withVelocity, type ClipNote } from '../phrase/clip.ts';
import { changedNotes, loudMark, type Step } from './step.ts';

export interface VelocityParams {
  /** Where the loud notes (95th percentile) land, as a share of 127. */
  loud: number;
  /** Factor on every note's distance from the loud notes: 0.5 halves the range. */
  range?: number;
  /** Pieces of the kit that stay as they were played; they do not count for the loud notes either. */
  except?: KitPiece[];
  /** Notes as soft as this or softer stay too: ghost notes are meant. */
  ghosts?: number;
}

/** Brings a part to its level: the loud notes land on a mark, the others keep their distance from them. */
export const setVelocity: Step<VelocityParams> = (clip, params) => {
  const exempt = new Set(params.except ?? []);
  const isDrums = clip.role === 'drums' || clip.role === 'percussion';
  const counts = ({ pitch, velocity }: ClipNote) =>
    !(isDrums && exempt.has(kitPiece(pitch))) && velocity > (params.ghosts ?? 0);
  const loudBefore = loudMark(clip.notes.filter(counts));
  const mark = params.loud * 127;
  const notes = clip.notes.map((note) => {
    if (!counts(note)) return note;
    const velocity = Math.round(mark + (note.velocity - loudBefore) * (params.range ?? 1));
    return withVelocity(note, Math.min(127, Math.max(1, velocity)));
  });
  return changedNotes(
    clip,
    { ...clip, notes },
    (changed, of) =>
      `${changed} of ${of} notes, loud mark ${Math.round(loudBefore)} to ${Math.round(mark)}` +
      (exempt.size > 0 && isDrums ? `; ${[...exempt].join(', ')} as played` : '') +
      (params.ghosts ? `; ${params.ghosts} and softer as played` : ''),
  );
};
