import { hasMinorThird, keySignature, type Key } from './key.ts';
import { pitchClass } from './pitch.ts';

/** Natural names on the line of fifths, F at -1. */
const NATURALS = ['F', 'C', 'G', 'D', 'A', 'E', 'B'];

/**
 * Name of a pitch class in a key: of its names on the line of fifths, the one that lies nearest to the key's own notes. A
 * major key reaches from its lowered second to its raised fourth; one with a minor third a little further to the
 * sharp side, to its raised seventh (common practice).
 */
export function spellPitchClass(pc: number, key: Key | null): string {
  return nameAt(placeIn(pc, key));
}

/** Name of a pitch class that leads up a semitone, as a diminished seventh's root does: C# to D, never Db (common practice). */
export function spellLeadingTone(pc: number, key: Key | null): string {
  return nameAt(placeIn(pc + 1, key) + FIFTHS_TO_LEADING_TONE);
}

const FIFTHS_TO_LEADING_TONE = 5;

/** Place on the line of fifths. */
function placeIn(pc: number, key: Key | null): number {
  // Place of C on the line of fifths is 0; the signature is the place of the relative major's tonic.
  const home = key ? keySignature(key) : 0;
  const leansSharp = key !== null && hasMinorThird(key.mode);
  const lowest = home - (leansSharp ? 3 : 5);
  return lowest + pitchClass(pc * 7 - lowest);
}

/** Name of a place on the line of fifths: 0 is C, 1 G, -1 F, 7 C#, -2 Bb. */
function nameAt(place: number): string {
  const natural = NATURALS[(((place + 1) % 7) + 7) % 7]!;
  const signs = Math.floor((place + 1) / 7);
  return natural + (signs < 0 ? 'b'.repeat(-signs) : '#'.repeat(signs));
}
