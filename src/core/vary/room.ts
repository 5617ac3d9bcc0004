import { isPitched, type Clip } from '../phrase/clip.ts';

/** So far a part is moved to find room. */
const OCTAVES = [0, -1, 1, -2, 2] as const;

/** MIDI's lowest and highest pitch. */
const [LOWEST, HIGHEST] = [0, 127];

/**
 * By how many octaves a part is moved to overlap least with the others, in semitones of range weighted by how much each
 * semitone sounds; of equals the smaller way. 0 where it or all others have no pitches.
 */
export function octaveWithRoom(clip: Clip, others: readonly Clip[]): number {
  const sounding = others.filter(isPitched);
  if (!isPitched(clip) || clip.notes.length === 0 || sounding.length === 0) return 0;
  const taken = shareByPitch(sounding.flatMap(({ notes }) => notes));
  const own = shareByPitch(clip.notes);
  let best = { by: 0, overlap: Infinity };
  for (const by of OCTAVES) {
    const moved = [...own].map(([pitch, share]) => [pitch + 12 * by, share] as const);
    if (moved.some(([pitch]) => pitch < LOWEST || pitch > HIGHEST)) continue;
    const overlap = moved.reduce((sum, [pitch, share]) => sum + share * nearby(taken, pitch), 0);
    if (overlap < best.overlap - 1e-9) best = { by, overlap };
  }
  return best.by;
}

/** How much of the time each pitch sounds, 1 in all. */
function shareByPitch(notes: Clip['notes']): Map<number, number> {
  const total = notes.reduce((sum, { duration }) => sum + duration, 0) || 1;
  const shares = new Map<number, number>();
  for (const { pitch, duration } of notes) shares.set(pitch, (shares.get(pitch) ?? 0) + duration / total);
  return shares;
}

/** How much sounds within a whole tone of a pitch. */
function nearby(shares: ReadonlyMap<number, number>, pitch: number): number {
  let sum = 0;
  for (let other = pitch - 2; other <= pitch + 2; other++) sum += shares.get(other) ?? 0;
  return sum;
}
