import { isPitched, withPitches } from '../phrase/clip.ts';
import { changedNotes, count, unchanged, type Step } from './step.ts';

export interface OctaveParams {
  /** Octaves up, or down below 0. */
  by: number;
  /** Quarter notes from bar one between which notes begin that are moved; all of them where nothing is said. */
  from?: number;
  to?: number;
}

/** A phrase, or some of its chords, in another octave. What would leave MIDI's range stays where it is, and key switches stay. */
export const setOctave: Step<OctaveParams> = (clip, { by, from, to }) => {
  if (!isPitched(clip)) return unchanged(clip, `${clip.role} have no octaves`);
  const { ppq } = clip.timeline;
  let stayed = 0;
  const notes = withPitches(clip, (pitch, { tick }) => {
    const beat = (tick - clip.pickup) / ppq;
    if (beat < (from ?? -Infinity) || beat >= (to ?? Infinity)) return pitch;
    const moved = octavesUp(pitch, by);
    if (moved === pitch && by !== 0) stayed++;
    return moved;
  });
  return changedNotes(clip, { ...clip, notes }, (changed, of) =>
    by === 0
      ? 'by nothing'
      : `${changed} of ${of} notes ${by > 0 ? 'up' : 'down'} ${count(Math.abs(by), 'octave')}` +
        (stayed > 0 ? `; ${stayed} would leave MIDI's range` : ''),
  );
};

/** A pitch some octaves up, or where it is where that would leave MIDI's range. */
export function octavesUp(pitch: number, by: number): number {
  const moved = pitch + 12 * by;
  return moved >= 0 && moved <= 127 ? moved : pitch;
}
