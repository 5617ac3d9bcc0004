import { isPitched, withPitch } from '../phrase/clip.ts';
import { soundingPitch, type PitchPair } from '../split/split.ts';
import { changedNotes, unchanged, type Step } from './step.ts';

export interface DrumsParams {
  /** Which pitches are kept as which others; what is not named stays. */
  pairs: PitchPair[];
}

/** Brings a kit to one map: the same piece on the same key, wherever it came from. */
export const mapDrums: Step<DrumsParams> = (clip, { pairs }) => {
  if (isPitched(clip)) return unchanged(clip, `${clip.role} has no kit`);
  const notes = clip.notes.map((note) => withPitch(note, soundingPitch(pairs, note.pitch)));
  return changedNotes(clip, { ...clip, notes }, (changed, of) =>
    changed === 0 ? 'every hit is on its key' : `${changed} of ${of} hits to their key`,
  );
};
