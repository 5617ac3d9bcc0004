import { chordScale, stepsFrom } from '../music/chord-scale.ts';
import { chordTones, type ChordName } from '../music/chord.ts';
import type { Key } from '../music/key.ts';
import { pitchClass } from '../music/pitch.ts';
import { REGISTERS } from '../phrase/registers.ts';
import { seededRandom } from '../random.ts';
import type { Changes } from '../through/sounding.ts';

/** How a bass goes through changes. */
export const BASS_WAYS = ['roots', 'fifths', 'octaves', 'walking', 'kick'] as const;
export type BassWay = (typeof BASS_WAYS)[number];

export const BASS_TITLES: Readonly<Record<BassWay, string>> = {
  roots: 'held roots',
  fifths: 'root and fifth',
  octaves: 'octaves',
  walking: 'walking',
  kick: 'with the kick',
};

/** A note in beats from bar one. */
export interface BassNote {
  beat: number;
  beats: number;
  pitch: number;
  velocity: number;
}

/** Where a bass may go, and up to where it is at home (from memory). */
const { low: LOW, high: HIGH } = REGISTERS.bass!;
const HOME_HIGH = 43;
const MIDDLE = 36;

/** A leap over this is turned round. */
const WIDE = 7;

/** So much of its place a note fills. */
const HELD = 0.9;

/**
 * A bass for some changes: the bass note of each chord (of a slash chord the one under the stroke) first.
 *
 * @param kicks beats at which a groove's kick is struck, for `kick`
 */
export function bassFor(
  { chords, bars }: Changes,
  {
    way,
    key,
    beatsPerBar,
    seed = 1,
    kicks = [],
  }: { way: BassWay; key: Key | null; beatsPerBar: number; seed?: number; kicks?: readonly number[] },
): BassNote[] {
  const random = seededRandom(seed);
  const end = bars * beatsPerBar;
  const notes: BassNote[] = [];
  const sounding = chords.flatMap(({ chord, beat, beats }) =>
    chord ? [{ chord, beat, to: Math.min(end, beat + beats) }] : [],
  );
  sounding.forEach(({ chord, beat, to }, k) => {
    const next = sounding[k + 1] ?? sounding[0]!;
    const root = placed(chord.bass, notes.at(-1)?.pitch);
    notes.push(...strokesOf(way, { chord, root, beat, to, next: next.chord, key, kicks, random }));
  });
  return notes;
}

/** A bass note in the octave nearest to the one before, or to the middle of its home where there is none. */
function placed(pc: number, before: number | undefined): number {
  const low = LOW + pitchClass(pc - LOW);
  const choices = [low, low + 12].filter((pitch) => pitch <= HOME_HIGH);
  const near = before ?? MIDDLE;
  return choices.reduce((best, pitch) => (Math.abs(pitch - near) < Math.abs(best - near) ? pitch : best));
}

interface Stretch {
  chord: ChordName;
  root: number;
  beat: number;
  to: number;
  next: ChordName;
  key: Key | null;
  kicks: readonly number[];
  random: () => number;
}

function strokesOf(way: BassWay, stretch: Stretch): BassNote[] {
  const { root, beat, to } = stretch;
  const note = (at: number, until: number, pitch: number, velocity: number): BassNote => ({
    beat: at,
    beats: (until - at) * HELD,
    pitch,
    velocity,
  });
  const every = (step: number, pitchOf: (k: number) => number) =>
    Array.from({ length: Math.max(1, Math.ceil((to - beat) / step - 1e-9)) }, (_, k) => {
      const at = beat + k * step;
      return note(at, Math.min(to, at + step), pitchOf(k), k === 0 ? 100 : 86);
    });
  switch (way) {
    case 'roots':
      return [note(beat, to, root, 96)];
    case 'fifths':
      return every(Math.min(2, (to - beat) / 2 || 1), (k) => (k % 2 === 0 ? root : fifthOf(stretch)));
    case 'octaves':
      return every(0.5, (k) => (k % 2 === 0 ? root : root + 12));
    case 'walking':
      return walk(stretch, note);
    default: {
      const struck = stretch.kicks.filter((at) => at >= beat - 1e-6 && at < to - 1e-6);
      const onsets = struck.length > 0 && struck[0]! <= beat + 1e-6 ? struck : [beat, ...struck];
      return onsets.map((at, k) => note(at, Math.min(to, onsets[k + 1] ?? to), root, k === 0 ? 100 : 90));
    }
  }
}

/** Under the root where the one above leaves home. */
function fifthOf({ chord, root }: Stretch): number {
  const up =
    chord.bass === chord.root ? (chord.quality.degrees[5] ?? 7) : pitchClass(chord.root - chord.bass);
  return root + up <= HOME_HIGH || root + up - 12 < LOW ? root + up : root + up - 12;
}

/** Chord notes on the beats, and into the change from a semitone or a step of the scale. */
function walk(
  { chord, root, beat, to, next, key, random }: Stretch,
  note: (at: number, until: number, pitch: number, velocity: number) => BassNote,
): BassNote[] {
  const count = Math.max(1, Math.round(to - beat));
  const goal = placed(next.bass, root);
  const tones = chordTones(chord);
  const notes: BassNote[] = [];
  let pitch = root;
  for (let k = 0; k < count; k++) {
    const at = beat + k;
    if (k > 0 && k === count - 1) pitch = approach(goal, pitch, chord, key, random);
    else if (k > 0) pitch = towards(goal, pitch, tones, random);
    notes.push(note(at, Math.min(to, at + 1), pitch, k === 0 ? 98 : 88));
  }
  return notes;
}

/** Another chord note within a sixth, rather on the way to the goal. */
function towards(goal: number, from: number, tones: readonly number[], random: () => number): number {
  const choices = [];
  for (let by = -WIDE; by <= WIDE; by++) {
    const pitch = from + by;
    if (by !== 0 && pitch >= LOW && pitch <= HIGH - WIDE && tones.includes(pitchClass(pitch)))
      choices.push(pitch);
  }
  if (choices.length === 0) return from;
  const near = choices.sort((a, b) => Math.abs(a - goal) - Math.abs(b - goal));
  return near[Math.floor(random() * Math.min(2, near.length))]!;
}

function approach(
  goal: number,
  from: number,
  chord: ChordName,
  key: Key | null,
  random: () => number,
): number {
  const scale = chordScale(chord, key);
  const choices = [goal - 1, goal + 1, stepsFrom(scale, goal, 1), stepsFrom(scale, goal, -1)].filter(
    (pitch) => pitch >= LOW && pitch <= HIGH && pitch !== from && Math.abs(pitch - from) <= WIDE + 2,
  );
  return choices[Math.floor(random() * choices.length)] ?? Math.max(LOW, goal - 1);
}
