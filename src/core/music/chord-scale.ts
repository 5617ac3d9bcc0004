import { DEGREES, type Degree, type Degrees } from './chord-quality.ts';
import { chordTones, type ChordName } from './chord.ts';
import { hasMinorThird, MODE_STEPS, type Key, type Mode } from './key.ts';
import { pitchClass } from './pitch.ts';
import { spellPitchClass } from './spelling.ts';

/** A scale over a root: its pitch classes upward from there, the root first. */
export interface ChordScale {
  root: number;
  /** Semitones over the root, ascending from 0. */
  steps: readonly number[];
}

const LYDIAN_DOMINANT = [0, 2, 4, 6, 7, 9, 10];
const LYDIAN = MODE_STEPS.lydian;

/** Modes on the same tonic that a chord is borrowed from, the nearest first. */
const LENDING: Readonly<Record<'major' | 'minor', readonly Mode[]>> = {
  major: ['minor', 'mixolydian', 'dorian', 'lydian', 'phrygian'],
  minor: ['dorian', 'major', 'phrygian', 'lydian', 'mixolydian'],
};

const scales = new Map<string, ChordScale>();

/**
 * The scale of a chord in a key, for the notes that are no chord notes (common practice, written from memory): a
 * diatonic chord's is the key; a borrowed one's the parallel mode that has it; a dominant's the key with its own notes put in, with
 * flat ninth and thirteenth where it leads to minor; bII7's and bVII7's lydian dominant; a diminished seventh's half-whole
 * over its notes; a major chord's with a sharp eleventh lydian.
 */
export function chordScale(chord: Pick<ChordName, 'root' | 'quality'>, key: Key | null): ChordScale {
  const name = `${chord.root}${chord.quality.symbol}/${key ? `${key.tonic}${key.mode}` : ''}`;
  const known = scales.get(name);
  if (known) return known;
  const found = upFrom(chord.root, key ? scaleInKey(chord, key) : scaleAlone(chord));
  if (scales.size < MOST_KEPT) scales.set(name, found);
  return found;
}

const MOST_KEPT = 4096;

/** A key's own scale. */
export function scaleOfKey(key: Key): ChordScale {
  return { root: key.tonic, steps: MODE_STEPS[key.mode] };
}

function upFrom(root: number, classes: Iterable<number>): ChordScale {
  const steps = new Set([...classes].map((pc) => pitchClass(pc - root)));
  return { root, steps: [...steps.add(0)].sort((a, b) => a - b) };
}

function scaleInKey(chord: Pick<ChordName, 'root' | 'quality'>, key: Key): Set<number> {
  const { root, quality } = chord;
  const tones = chordTones(chord);
  const { degrees } = quality;
  if (isDiminishedSeventh(quality)) return halfWhole(tones);
  const own = classesOf(key.tonic, MODE_STEPS[key.mode]);
  if (degrees[11] === 6 && degrees[3] === 4)
    return classesOf(root, degrees[7] === 10 ? LYDIAN_DOMINANT : LYDIAN);
  if (tones.every((tone) => own.has(tone))) return own;
  const degree = pitchClass(root - key.tonic);
  const dominant = degrees[3] === 4 && degrees[7] === 10;
  if (dominant && (degree === 1 || degree === 10)) return classesOf(root, LYDIAN_DOMINANT);
  // A triad on a degree's fifth leads there too; a dominant is one before it is anything borrowed.
  const leads = degrees[3] === 4 && own.has(pitchClass(root + 5)) && !own.has(pitchClass(root + 4));
  if (!leads && !dominant) {
    const lender = LENDING[hasMinorThird(key.mode) ? 'minor' : 'major']
      .map((mode) => classesOf(key.tonic, MODE_STEPS[mode]))
      .find((scale) => tones.every((tone) => scale.has(tone)));
    if (lender) return lender;
  }
  const goal = pitchClass(root + 5);
  const toMinor = own.has(goal) && own.has(pitchClass(goal + 3)) && !own.has(pitchClass(goal + 4));
  const darker = (dominant || leads) && toMinor ? { 9: 1, 13: 8 } : {};
  return withNotes(own, { root, degrees: { ...darker, ...degrees } }, key);
}

/** Where no key is known: the commonest scale that has the chord. */
function scaleAlone(chord: Pick<ChordName, 'root' | 'quality'>): Set<number> {
  const { root, quality } = chord;
  const tones = chordTones(chord);
  if (isDiminishedSeventh(quality)) return halfWhole(tones);
  const modes: readonly Mode[] =
    quality.degrees[3] === 3
      ? ['dorian', 'minor', 'phrygian', 'locrian']
      : quality.degrees[7] === 10
        ? ['mixolydian']
        : ['major', 'lydian', 'mixolydian'];
  const found = modes
    .map((mode) => classesOf(root, MODE_STEPS[mode]))
    .find((scale) => tones.every((tone) => scale.has(tone)));
  return found ?? withNotes(classesOf(root, MODE_STEPS[modes[0]!]), { root, degrees: quality.degrees }, null);
}

function isDiminishedSeventh({ degrees }: ChordName['quality']): boolean {
  return degrees[3] === 3 && degrees[5] === 6 && degrees[7] === 9;
}

/** Heard as the dominant a major third below without its root: each note, and the semitone under it. */
function halfWhole(tones: readonly number[]): Set<number> {
  return new Set(tones.flatMap((tone) => [tone, pitchClass(tone - 1)]));
}

function classesOf(root: number, steps: readonly number[]): Set<number> {
  return new Set(steps.map((step) => pitchClass(root + step)));
}

/** Where a degree may lie, in semitones over the root: a note put in takes the place of the others on its letter. */
const LETTER: Readonly<Record<Degree, readonly number[]>> = {
  1: [0],
  3: [3, 4],
  5: [6, 7, 8],
  7: [10, 11],
  9: [1, 2, 3],
  11: [5, 6],
  13: [8, 9],
};

/** A scale with a chord's notes put in, each in the place of what stands on its letter and is no note of the chord. */
function withNotes(
  scale: Set<number>,
  { root, degrees }: { root: number; degrees: Degrees },
  key: Key | null,
): Set<number> {
  const tones = new Set(DEGREES.flatMap((degree) => pitchClassOf(root, degrees[degree])));
  const result = new Set(scale);
  const give = (pc: number) => !tones.has(pc) && result.delete(pc);
  for (const degree of DEGREES) {
    const [tone] = pitchClassOf(root, degrees[degree]);
    if (tone === undefined || result.has(tone)) continue;
    if (degree === 1) give(pitchClass(spellPitchClass(root, key).includes('b') ? root + 1 : root - 1));
    else for (const step of LETTER[degree]) give(pitchClass(root + step));
    result.add(tone);
  }
  return result;
}

function pitchClassOf(root: number, semitones: number | undefined): number[] {
  return semitones === undefined ? [] : [pitchClass(root + semitones)];
}

/** Bits 0..11 for the pitch classes of a scale. */
export function scaleBits({ root, steps }: ChordScale): number {
  return steps.reduce((bits, step) => bits | (1 << pitchClass(root + step)), 0);
}

/** Whether a pitch is of a scale. */
export function isInScale(scale: ChordScale, pitch: number): boolean {
  return scale.steps.includes(pitchClass(pitch - scale.root));
}

/**
 * A pitch as steps of a scale: how many steps over the root of octave 0, and how many semitones over that step (0 for a
 * note of the scale).
 */
export function stepOf(scale: ChordScale, pitch: number): { step: number; over: number } {
  const above = pitch - scale.root;
  const octave = Math.floor(above / 12);
  const within = pitchClass(above);
  let k = scale.steps.length - 1;
  while (scale.steps[k]! > within) k--;
  return { step: octave * scale.steps.length + k, over: within - scale.steps[k]! };
}

/** The pitch of a step; the inverse of `stepOf`. */
export function pitchOfStep(scale: ChordScale, step: number): number {
  const size = scale.steps.length;
  const octave = Math.floor(step / size);
  return scale.root + 12 * octave + scale.steps[step - octave * size]!;
}

/** So many steps of a scale up (or down, below 0) from a pitch, which need not be of the scale. */
export function stepsFrom(scale: ChordScale, pitch: number, steps: number): number {
  const { step, over } = stepOf(scale, pitch);
  // From between two steps the first step up is the next one, and the first down the one under it.
  const from = over > 0 && steps < 0 ? step + 1 : step;
  return pitchOfStep(scale, from + steps);
}
