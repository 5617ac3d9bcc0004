/** Pitch names. MIDI pitch 60 is middle C: C4 by default, C3 by a setting. */

const SHARPS = ['C', 'C#', 'D', 'D#', 'E', 'F', 'F#', 'G', 'G#', 'A', 'A#', 'B'] as const;
const FLATS = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'Gb', 'G', 'Ab', 'A', 'Bb', 'B'] as const;

/** Pitch class 0..11 (C is 0) of any whole number. */
export function pitchClass(pitch: number): number {
  return ((pitch % 12) + 12) % 12;
}

/** Whether MIDI has a note of this number. */
export function isPitch(pitch: number): boolean {
  return pitch >= 0 && pitch <= 127;
}

/** A pitch in MIDI's range: by octaves to its nearest end where it is outside. */
export function foldedPitch(pitch: number): number {
  if (isPitch(pitch)) return pitch;
  return pitchClass(pitch) + (pitch < 0 ? 0 : pitchClass(pitch) <= 7 ? 120 : 108);
}

export function pitchClassName(pc: number, flats = false): string {
  return (flats ? FLATS : SHARPS)[pitchClass(pc)]!;
}

/** Name with octave, such as "C4" for 60. `middleC` is the octave number that middle C carries. */
export function pitchName(pitch: number, options: { flats?: boolean; middleC?: 3 | 4 | 5 } = {}): string {
  const octave = Math.floor(pitch / 12) - 5 + (options.middleC ?? 4);
  return `${pitchClassName(pitch, options.flats)}${octave}`;
}

const LETTERS: Record<string, number> = { C: 0, D: 2, E: 4, F: 5, G: 7, A: 9, B: 11 };

/** Pitch class of a name such as "Eb", "F#", "B♭"; undefined where it is none. */
export function parsePitchClass(name: string): number | undefined {
  const match = /^([A-Ga-g])([#b♯♭]*)$/.exec(name.trim());
  if (!match) return undefined;
  let pc = LETTERS[match[1]!.toUpperCase()]!;
  for (const sign of match[2]!) pc += sign === '#' || sign === '♯' ? 1 : -1;
  return pitchClass(pc);
}

/** The pitch that a name such as "C3" or "F#-1" means, where middle C is C4; undefined where it means none. */
export function parsePitch(name: string): number | undefined {
  const [, letter, octave] = /^([A-G](?:#|b)*)(-?\d)$/i.exec(name.trim()) ?? [];
  const pc = letter === undefined ? undefined : parsePitchClass(letter);
  if (pc === undefined) return undefined;
  const pitch = pc + (Number(octave) + 1) * 12;
  return isPitch(pitch) ? pitch : undefined;
}
