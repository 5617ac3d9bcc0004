import { pitchClass } from '../music/pitch.ts';
import { barTicks, meterAt } from '../music/timeline.ts';
import { isPitched, playedNotes, type Clip } from '../phrase/clip.ts';

/** Bars of a phrase that its profile tells of: what is longer is told by its beginning. */
export const PROFILE_BARS = 16;

/** Parts of a bar that are told apart: chords seldom change faster. */
export const PROFILE_PARTS = 2;

/** What begins on a bar line counts so much more than what begins between beats, on another beat half so much more. */
const ON_THE_BAR = 2;
const ON_A_BEAT = 1.5;

/**
 * Which pitch classes sound in each half of a bar, from bar one on: twelve numbers 0..255 a half, the duration of notes by their
 * metric weight, scaled to the largest of all. The first is the tonic's where the clip has a key, else that of C; empty for what has
 * no pitches.
 */
export function harmonyProfile(clip: Clip): Uint8Array {
  const { timeline, pickup } = clip;
  const { ppq } = timeline;
  const part = barTicks(ppq, meterAt(timeline, pickup)) / PROFILE_PARTS;
  const parts = Math.min(PROFILE_BARS * PROFILE_PARTS, Math.round((clip.length - pickup) / part));
  if (!isPitched(clip) || parts <= 0) return new Uint8Array();
  const weights = new Float64Array(12 * parts);
  const tonic = clip.key?.tonic ?? 0;
  for (const { tick, duration, pitch } of playedNotes(clip)) {
    const start = Math.max(0, tick - pickup);
    const end = Math.min(parts * part, tick - pickup + duration);
    const weight = start % (part * PROFILE_PARTS) === 0 ? ON_THE_BAR : start % ppq === 0 ? ON_A_BEAT : 1;
    for (let at = Math.floor(start / part); at * part < end; at++) {
      const sounds = Math.min(end, (at + 1) * part) - Math.max(start, at * part);
      if (sounds > 0) weights[12 * at + pitchClass(pitch - tonic)]! += sounds * weight;
    }
  }
  const most = Math.max(...weights);
  return most > 0
    ? Uint8Array.from(weights, (weight) => Math.round((255 * weight) / most))
    : new Uint8Array();
}
