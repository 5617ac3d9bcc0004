import { intervalBetween, keyName, parseKey } from '../music/key.ts';
import { foldedPitch, pitchClass } from '../music/pitch.ts';
import { isPitched, withPitches } from '../phrase/clip.ts';
import { changedNotes, count, unchanged, type Step } from './step.ts';

/** Either a number of semitones, or the tonic to go to by the shorter way (the mode stays). */
export type TransposeParams = { semitones: number; to?: undefined } | { to: string; semitones?: undefined };

/** Transposes a pitched part and its key. Drums and other unpitched parts stay as they are, and so do key switches. */
export const transpose: Step<TransposeParams> = (clip, params) => {
  if (!isPitched(clip)) return unchanged(clip, `${clip.role} are not transposed`);
  let semitones = params.semitones ?? 0;
  if (params.to !== undefined) {
    const target = parseKey(params.to);
    if (!clip.key || !target) return unchanged(clip, 'the key is not known: nothing to transpose from');
    semitones = intervalBetween(clip.key.tonic, target.tonic);
  }
  if (semitones === 0) {
    return unchanged(clip, clip.key ? `already in ${keyName(clip.key)}` : 'by nothing');
  }
  const key = clip.key && { ...clip.key, tonic: pitchClass(clip.key.tonic + semitones) };
  let folded = 0;
  const notes = withPitches(clip, (before) => {
    const pitch = before + semitones;
    const inRange = foldedPitch(pitch);
    if (inRange !== pitch) folded++;
    return inRange;
  });
  return changedNotes(clip, { ...clip, key, notes }, () =>
    [
      `${semitones > 0 ? 'up' : 'down'} ${count(Math.abs(semitones), 'semitone')}`,
      clip.key && key ? `${keyName(clip.key)} to ${keyName(key)}` : '',
      clip.locked.length > 0 ? 'key switches stay' : '',
      folded > 0 ? `${count(folded, 'note')} folded into MIDI's range` : '',
    ]
      .filter(Boolean)
      .join('; '),
  );
};
