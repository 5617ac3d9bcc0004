import { pitchName } from '../music/pitch.ts';
import { isPitched, playedNotes, withPitches } from '../phrase/clip.ts';
import { changedNotes, count, unchanged, type Step } from './step.ts';

export interface RegisterParams {
  /** Lowest and highest pitch (0..127) of the range the part should lie in. */
  low: number;
  high: number;
}

/** Moves the whole part by octaves, so that the fewest notes lie outside the range; of equals, the least move. */
export const setRegister: Step<RegisterParams> = (clip, params) => {
  const range = `${pitchName(params.low)} to ${pitchName(params.high)}`;
  if (!isPitched(clip) || clip.notes.length === 0) {
    return unchanged(clip, `${clip.role} have no register`);
  }
  const body = playedNotes(clip);
  // Pitches are few where notes are many.
  const counts = new Map<number, number>();
  for (const { pitch } of body) counts.set(pitch, (counts.get(pitch) ?? 0) + 1);
  const pitches = [...counts];
  const outside = (octaves: number) => {
    let sum = 0;
    for (const [pitch, count] of pitches) {
      const at = pitch + 12 * octaves;
      if (at < params.low || at > params.high) sum += count;
    }
    return sum;
  };
  const possible = [0, -1, 1, -2, 2, -3, 3, -4, 4, -5, 5].filter((octaves) =>
    pitches.every(([pitch]) => pitch + 12 * octaves >= 0 && pitch + 12 * octaves <= 127),
  );
  const octaves = possible.reduce(
    (best, candidate) => (outside(candidate) < outside(best) ? candidate : best),
    0,
  );
  const notes = octaves === 0 ? clip.notes : withPitches(clip, (pitch) => pitch + 12 * octaves);
  const left = outside(octaves);
  return changedNotes(clip, { ...clip, notes }, (_, of) =>
    [
      octaves === 0
        ? `lies best where it is for ${range}`
        : `${octaves > 0 ? 'up' : 'down'} ${count(Math.abs(octaves), 'octave')} to ${range}`,
      left > 0 ? `${left} of ${of} notes still outside` : '',
    ]
      .filter(Boolean)
      .join('; '),
  );
};
