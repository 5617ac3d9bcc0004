import { pitchClass } from '../music/pitch.ts';
import { isChordNote } from './degrees.ts';
import type { ChordName } from '../music/chord.ts';

/** Open strings of a guitar in standard tuning (common practice), low to high. */
export const OPEN_STRINGS = [40, 45, 50, 55, 59, 64] as const;

/** The bass of a shape lies within so many frets. */
const BASS_FRETS = 4;

/**
 * A chord as a strummed shape, low to high: its bass on the lowest string that has it within four frets, every other
 * string its lowest fret that is a note of the chord. Strings below the bass are not played.
 */
export function strummedShape(chord: ChordName): number[] {
  const fret = (open: number, pc: number) => pitchClass(pc - open);
  const bassOn = OPEN_STRINGS.findIndex((open) => fret(open, chord.bass) <= BASS_FRETS);
  const from = Math.max(0, bassOn);
  return OPEN_STRINGS.slice(from).map((open, k) => {
    if (k === 0) return open + fret(open, chord.bass);
    const over = { ...chord, bass: chord.root };
    let pitch: number = open;
    while (!isChordNote(over, pitch)) pitch++;
    return pitch;
  });
}
