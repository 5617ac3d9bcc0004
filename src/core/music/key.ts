import { parsePitchClass, pitchClass, pitchClassName } from './pitch.ts';

export const MODES = ['major', 'minor', 'dorian', 'phrygian', 'lydian', 'mixolydian', 'locrian'] as const;

export type Mode = (typeof MODES)[number];

/** Steps of each mode in semitones from its tonic (common practice). */
export const MODE_STEPS: Record<Mode, readonly number[]> = {
  major: [0, 2, 4, 5, 7, 9, 11],
  minor: [0, 2, 3, 5, 7, 8, 10],
  dorian: [0, 2, 3, 5, 7, 9, 10],
  phrygian: [0, 1, 3, 5, 7, 8, 10],
  lydian: [0, 2, 4, 6, 7, 9, 11],
  mixolydian: [0, 2, 4, 5, 7, 9, 10],
  locrian: [0, 1, 3, 5, 6, 8, 10],
};

/** Whether a mode has a minor third. */
export function hasMinorThird(mode: Mode): boolean {
  return MODE_STEPS[mode].includes(3);
}

/** A tonal center and its mode. `tonic` is a pitch class, 0 = C. */
export interface Key {
  tonic: number;
  mode: Mode;
}

/** Semitones from each mode's tonic up to the tonic of the major scale with the same notes. */
const TO_RELATIVE_MAJOR: Record<Mode, number> = {
  major: 0,
  minor: 3,
  dorian: 10,
  phrygian: 8,
  lydian: 7,
  mixolydian: 5,
  locrian: 1,
};

/** Sharps (positive) or flats (negative) of the major scale on each pitch class; six is written as flats. */
const MAJOR_SIGNATURE = [0, -5, 2, -3, 4, -1, -6, 1, -4, 3, -2, 5] as const;

/** Sharps (1..7) or flats (-7..-1) of the key's signature, as in a MIDI key signature event. */
export function keySignature(key: Key): number {
  return MAJOR_SIGNATURE[pitchClass(key.tonic + TO_RELATIVE_MAJOR[key.mode])]!;
}

export function keyFromSignature(fifths: number, minor: boolean): Key {
  const major = pitchClass(fifths * 7);
  return minor ? { tonic: pitchClass(major + 9), mode: 'minor' } : { tonic: major, mode: 'major' };
}

/** The key of a mode that has the notes of another key: A minor for C major, E dorian for A mixolydian. */
export function relativeKey(key: Key, mode: Mode): Key {
  const major = key.tonic + TO_RELATIVE_MAJOR[key.mode];
  return { tonic: pitchClass(major - TO_RELATIVE_MAJOR[mode]), mode };
}

export function usesFlats(key: Key): boolean {
  return keySignature(key) < 0;
}

/** The tonic's name in the key's own spelling, such as "Eb". */
export function tonicName(key: Key): string {
  return pitchClassName(key.tonic, usesFlats(key));
}

/** The twelve tonics as major keys spell them, from C. */
export const TONICS: readonly string[] = Array.from({ length: 12 }, (_, tonic) =>
  tonicName({ tonic, mode: 'major' }),
);

/** "D minor", "F lydian". */
export function keyName(key: Key): string {
  return `${tonicName(key)} ${key.mode}`;
}

/** Short form for tables and file names: "D", "Dm", "F lydian". */
export function keyLabel(key: Key): string {
  if (key.mode === 'major') return tonicName(key);
  if (key.mode === 'minor') return `${tonicName(key)}m`;
  return keyName(key);
}

/** Reads "Dm", "D minor", "Bb", "F lydian"; undefined where it is no key. */
export function parseKey(text: string): Key | undefined {
  const match = /^\s*([A-Ga-g][#b♯♭]?)\s*(m|min|minor|maj|major|[a-z]+)?\s*$/.exec(text);
  if (!match) return undefined;
  const tonic = parsePitchClass(match[1]!);
  if (tonic === undefined) return undefined;
  const word = (match[2] ?? 'major').toLowerCase();
  const mode = word === 'm' || word === 'min' ? 'minor' : word === 'maj' ? 'major' : word;
  return MODES.includes(mode as Mode) ? { tonic, mode: mode as Mode } : undefined;
}

export function sameKey(a: Key, b: Key): boolean {
  return a.tonic === b.tonic && a.mode === b.mode;
}

/** Smallest transposition in semitones, -5..6, that takes one tonic to another. */
export function intervalBetween(fromTonic: number, toTonic: number): number {
  const up = pitchClass(toTonic - fromTonic);
  return up > 6 ? up - 12 : up;
}
