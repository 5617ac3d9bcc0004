import { DEGREES, type Degree } from '../music/chord-quality.ts';
import { chordScale, isInScale, pitchOfStep, type ChordScale } from '../music/chord-scale.ts';
import { chordTones, type ChordName } from '../music/chord.ts';
import type { Key } from '../music/key.ts';
import { pitchClass } from '../music/pitch.ts';

/** A chord note by what it is in its chord; the bass of a slash chord may be none of them. */
export type ChordDegree = Degree | 'bass';

/** What a pitch is in a chord; undefined where it is no note of it. */
export function degreeIn(chord: ChordName, pitch: number): ChordDegree | undefined {
  const over = pitchClass(pitch - chord.root);
  const degree = DEGREES.find((one) => chord.quality.degrees[one] === over);
  return degree ?? (pitchClass(pitch - chord.bass) === 0 ? 'bass' : undefined);
}

/** Whether a pitch is a note of a chord, its bass included. */
export function isChordNote(chord: ChordName, pitch: number): boolean {
  return degreeIn(chord, pitch) !== undefined;
}

const isSuspended = ({ quality: { degrees } }: ChordName) => degrees[3] === 2 || degrees[3] === 5;

/** A ladder of a chord's pitch classes from its root up, in semitones. */
export function rungsOf({ quality }: ChordName): number[] {
  return [...quality.tones].sort((a, b) => a - b);
}

/**
 * The pitch class that stands for a degree of one chord in another (common practice). `near` is where the note would lie
 * if its chord were moved as a block: a seventh that the target has not goes to the root where that is within two semitones.
 */
export function degreeInTarget(
  degree: ChordDegree,
  target: ChordName,
  key: Key | null,
  near: number | undefined,
): number {
  const { root, quality, bass } = target;
  const at = (semitones: number) => pitchClass(root + semitones);
  if (degree === 'bass') return bass;
  const has = quality.degrees[degree];
  if (has !== undefined) return at(has);
  const scale = chordScale(target, key);
  switch (degree) {
    case 1:
      return root;
    case 3:
      // A power chord has no third: its fifth.
      return at(quality.degrees[5] ?? 7);
    case 5:
      return at(scale.steps.find((step) => step >= 6 && step <= 8) ?? 7);
    case 7: {
      const within = near === undefined ? 12 : Math.abs(((pitchClass(near) - root + 18) % 12) - 6);
      return within <= 2 ? root : at(quality.degrees[5] ?? 7);
    }
    default:
      return tensionInTarget(degree, target, scale);
  }
}

/** Where each tension lies in its scale, in semitones over the root. */
const TENSIONS: Readonly<Record<9 | 11 | 13, readonly number[]>> = { 9: [2, 1, 3], 11: [5, 6], 13: [9, 8] };

function tensionInTarget(degree: 9 | 11 | 13, target: ChordName, scale: ChordScale): number {
  const { root } = target;
  const step = TENSIONS[degree].find((one) => scale.steps.includes(one)) ?? TENSIONS[degree][0]!;
  if (!isAvoided(step, target)) return pitchClass(root + step);
  return nearestOf(chordTones(target), root + step);
}

/** A semitone over a chord note, but for a flat ninth over a dominant (common practice). */
export function isAvoided(step: number, { quality: { degrees, tones } }: ChordName): boolean {
  if (step === 1 && degrees[3] === 4 && degrees[7] === 10) return false;
  return tones.includes(pitchClass(step - 1)) && !tones.includes(pitchClass(step));
}

/** Of some pitch classes the one nearest to a pitch class; of two as near the lower. */
function nearestOf(classes: readonly number[], pitch: number): number {
  const apart = (pc: number) => Math.abs(((pc - pitch + 126) % 12) - 6);
  return classes.reduce((best, pc) => (apart(pc) < apart(best) ? pc : best));
}

/** Whether the same degree of a suspension stays one: a switch keeps suspensions where the target has a third. */
export function keptSuspension(source: ChordName, target: ChordName, key: Key | null): number | undefined {
  if (!isSuspended(source) || isSuspended(target)) return undefined;
  const scale = chordScale(target, key);
  const step = scale.steps.find((one) => one === source.quality.degrees[3]);
  return step === undefined ? undefined : pitchClass(target.root + step);
}

/** The pitch of a pitch class nearest to a pitch, of two as near the lower. */
export function nearestPitch(pc: number, pitch: number): number {
  const up = pitchClass(pc - pitch);
  return up < 6 ? pitch + up : pitch + up - 12;
}

/** Semitones from one root to another by the shorter way; a tritone goes up from the lower half of the octave, so that there and back is nothing. */
export function rootWay(from: number, to: number): number {
  const up = pitchClass(to - from);
  if (up === 6) return pitchClass(from) < pitchClass(to) ? 6 : -6;
  return up > 6 ? up - 12 : up;
}

/** The nearest note of a chord or its scale; `pitch` itself where it is one. */
export function nearestInScale(chord: ChordName, key: Key | null, pitch: number): number {
  const scale = chordScale(chord, key);
  for (const by of [0, -1, 1, -2, 2])
    if (isChordNote(chord, pitch + by) || isInScale(scale, pitch + by)) return pitch + by;
  return pitch;
}

/** The same place in another scale of as many steps, both counted from their own roots; a step that is missing is the one under it. */
export function sameStep(step: number, size: number, target: ChordScale): number {
  const octave = Math.floor(step / size);
  const within = Math.min(step - octave * size, target.steps.length - 1);
  return pitchOfStep(target, octave * target.steps.length + within);
}

/**
 * Which notes of a chord some voices take, as pitch classes (common practice): 3 and 7 first, then the tensions its symbol
 * names, then 1, then 5; where a bass plays, 1 last. More voices than notes double 1, then 5.
 */
export function voicesFor(
  { root, quality: { degrees } }: ChordName,
  voices: number,
  bassPlays: boolean,
): number[] {
  const order: Degree[] = bassPlays ? [3, 7, 13, 11, 9, 5, 1] : [3, 7, 13, 11, 9, 1, 5];
  const there = order.filter((degree) => degrees[degree] !== undefined);
  const doubled = ([1, 5] as const).filter((degree) => degrees[degree] !== undefined);
  const taken = Array.from(
    { length: voices },
    (_, k) => there[k] ?? doubled[(k - there.length) % doubled.length] ?? 1,
  );
  return taken.map((degree) => pitchClass(root + (degrees[degree] ?? 0)));
}
