import type { ChordFinding } from './chords.ts';
import type { Chroma } from './chroma.ts';
import { logistic, mean } from '../numbers.ts';
import { hasMinorThird, MODE_STEPS, MODES, type Key, type Mode } from '../music/key.ts';
import { pitchClass } from '../music/pitch.ts';

export interface KeyFinding extends Key {
  /** 0..1: how far this key stands out; the certainties of all keys add up to 1. */
  certainty: number;
}

/** The likeliest of found keys, as a key and no more; null where none was found. */
export function likeliestKey(keys: readonly KeyFinding[]): Key | null {
  const [found] = keys;
  return found ? { tonic: found.tonic, mode: found.mode } : null;
}

/**
 * Key profiles: probe tones of Krumhansl & Kessler, "Tracing the dynamic changes in perceived tonal organization in a
 * spatial representation of musical keys" (1982), as printed in Krumhansl (1990); Temperley's revision of them (1999) and Albrecht & Shanahan's (2013), both typed
 * from memory.
 */
export const KEY_PROFILES = {
  krumhansl: {
    major: [6.35, 2.23, 3.48, 2.33, 4.38, 4.09, 2.52, 5.19, 2.39, 3.66, 2.29, 2.88],
    minor: [6.33, 2.68, 3.52, 5.38, 2.6, 3.53, 2.54, 4.75, 3.98, 2.69, 3.34, 3.17],
  },
  temperley: {
    major: [5, 2, 3.5, 2, 4.5, 4, 2, 4.5, 2, 3.5, 1.5, 4],
    minor: [5, 2, 3.5, 4.5, 2, 4, 2, 4.5, 3.5, 2, 1.5, 4],
  },
  albrecht: {
    major: [0.238, 0.006, 0.111, 0.006, 0.137, 0.094, 0.016, 0.214, 0.009, 0.08, 0.008, 0.081],
    minor: [0.22, 0.006, 0.104, 0.123, 0.019, 0.103, 0.012, 0.214, 0.062, 0.022, 0.061, 0.052],
  },
} as const;

export type KeyProfile = keyof typeof KEY_PROFILES;

/** Steps of each mode; the minor one may also raise its seventh (harmonic minor). */
const SCALES: Readonly<Record<Mode, readonly number[]>> = {
  ...MODE_STEPS,
  minor: [...MODE_STEPS.minor, 11],
};

/** A church mode is major or minor with these two degrees changed for each other: its own against the usual one. */
export const CHARACTER: Partial<Record<Mode, readonly [own: number, usual: number]>> = {
  dorian: [9, 8],
  phrygian: [1, 2],
  lydian: [6, 5],
  mixolydian: [10, 11],
};

/** What speaks for a key, and how much. Compared in docs/accuracy.md. */
export interface KeyWeights {
  profile: KeyProfile;
  profileWeight: number;
  first: number;
  last: number;
  /** What the first chord is worth where the end leads back to it, since the changes go round or turn back: the last then says nothing. */
  firstOfRound: number;
  firstOfTurn: number;
  cadence: number;
  fit: number;
  bass: number;
  /** What a church mode must make up for: it is rarer. */
  modal: number;
  /** What speaks for a church mode where its own degree sounds instead of the usual one. */
  character: number;
  /** What it is worth that the key's own third sounds rather than the other. */
  third: number;
}

/**
 * Chosen on halves of eight families: charts that Debian's abc2midi sounds, those that begin on another chord, end away from
 * their tonic or have all kinds of chord, vamps in church modes, and the keys of 31 real files that were labeled by hand. The
 * other halves are told in docs/decisions/0014-found-on-music-nobody-tuned-to.md.
 */
export const KEY_WEIGHTS: KeyWeights = {
  profile: 'albrecht',
  profileWeight: 1.2,
  first: 0.19,
  last: 0.23,
  firstOfRound: 0.16,
  firstOfTurn: 0.26,
  cadence: 0.62,
  fit: 1.15,
  bass: 0.34,
  modal: 0.3,
  character: 0.25,
  third: 0.03,
};

/** How much a dominant seventh is at home in the mode that has it: it may as well lead elsewhere. */
const DOMINANT_HOME = 0.6;

/** How sharply a lead in score becomes a lead in certainty. */
const SHARPNESS = 12;

/**
 * Keys of what sounds, likeliest first, church modes among them: the profile's correlation, the first and the last chord, falls
 * of a fifth onto the tonic, how much lies in the scale, and how much of the bass lies on the tonic. Empty where
 * nothing sounds.
 */
export function findKeysOf(
  chroma: Chroma,
  chords: readonly ChordFinding[],
  weights: KeyWeights = KEY_WEIGHTS,
): KeyFinding[] {
  const scored = keyScores(total(chroma.weights), total(chroma.bass), chords, weights);
  scored.sort((a, b) => b.score - a.score);
  const spread = scored.map(({ score }) => Math.exp(SHARPNESS * (score - scored[0]!.score)));
  const all = sumOf(spread);
  const best = spread[0]! / all;
  const certainty = calibrated(best);
  // The others share what is left as they stand to each other.
  const left = best < 1 ? (1 - certainty) / (1 - best) : 0;
  return scored.map(({ tonic, mode }, i) => ({
    tonic,
    mode,
    certainty: i === 0 ? certainty : left * (spread[i]! / all),
  }));
}

/**
 * How often a key with such a share of all is the right one, fitted to nine families of charts and to 31 real files; see
 * docs/accuracy.md, "How certain".
 */
function calibrated(share: number): number {
  return logistic(1.04 + 1.126 * Math.log(share / (1 - share)));
}

export function keysOf(which: (mode: Mode) => boolean): Key[] {
  return MODES.filter((mode) => mode !== 'locrian' && which(mode)).flatMap((mode) =>
    Array.from({ length: 12 }, (_, tonic) => ({ tonic, mode })),
  );
}

/** Every key with what speaks for it; none where nothing sounds. */
function keyScores(
  sounding: readonly number[],
  bass: readonly number[],
  chords: readonly ChordFinding[],
  weights: KeyWeights,
): (Key & { score: number })[] {
  if (sounding.every((weight) => weight === 0)) return [];
  const named = chords.filter(({ chord }) => chord !== null);
  const heard = heardOf(sounding, bass, named, weights);
  return keysOf(() => true).map((key) => ({ ...key, score: keyScore(key, heard, weights) }));
}

/** What sounds in a stretch, as far as it is the same for every key. */
export interface Heard {
  /** Weight of each pitch class, and of all. */
  sounding: readonly number[];
  all: number;
  /** How far the weights lie from their mean: the length of the vector of distances. */
  spread: number;
  bass: readonly number[];
  lowest: number;
  first: ChordFinding | undefined;
  last: ChordFinding | undefined;
  ends: Pick<KeyWeights, 'first' | 'last'>;
  /** 0..1: what a dominant seventh on the tonic is worth as a home. */
  sevenths: number;
  /** Whose blues it is: the one whose fourth and fifth the other chords stand on; null where it is none. */
  blues: number | null;
  /** Chords onto which a major or dominant chord a fifth above falls. */
  falls: ChordFinding[];
  changes: number;
}

const sumOf = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0);

/** `chords` are those that are named. */
export function heardOf(
  sounding: readonly number[],
  bass: readonly number[],
  chords: readonly ChordFinding[],
  weights: KeyWeights,
): Heard {
  const all = sumOf(sounding);
  const isBlues = isAllSevenths(chords);
  return {
    sounding,
    all,
    spread: Math.sqrt(sumOf(sounding.map((weight) => (weight - all / 12) ** 2))),
    bass,
    lowest: sumOf(bass),
    first: chords[0],
    last: chords.at(-1),
    ends: endsOf(chords, weights),
    sevenths: isBlues ? SEVENTH_HOME_OF_BLUES : SEVENTH_HOME,
    blues: isBlues ? tonicOfThree(chords) : null,
    falls: chords.filter((finding, k) => {
      // Where all are sevenths, the fall from the first to the fourth degree is no cadence.
      if (isBlues) return false;
      const before = k > 0 ? chords[k - 1]!.chord : null;
      return before?.root === pitchClass(finding.chord!.root + 7) && before.quality.tones.includes(4);
    }),
    changes: chords.length - 1,
  };
}

/** What speaks for a key in a stretch. */
export function keyScore({ tonic, mode }: Key, heard: Heard, weights: KeyWeights): number {
  const isMinor = hasMinorThird(mode);
  const at = (step: number) => heard.sounding[(tonic + step) % 12]!;
  let inScale = 0;
  for (const step of SCALES[mode]) inScale += at(step);
  const home = (finding: ChordFinding | undefined) => homeOf(finding, tonic, mode, heard.sevenths);
  const character = CHARACTER[mode];
  return (
    weights.profileWeight * likenessTo(PROFILE_SHAPES[weights.profile][mode], heard, tonic) +
    (heard.ends.first * home(heard.first) + heard.ends.last * home(heard.last)) +
    weights.cadence * (heard.blues === tonic && !isMinor ? BLUES_CADENCE : cadences(heard, home)) +
    weights.fit * (inScale / heard.all) +
    weights.third * ownThird(at, heard.all, isMinor) +
    (heard.lowest > 0 ? weights.bass * (heard.bass[tonic]! / heard.lowest) : 0) -
    (character ? weights.modal - weights.character * characterOf(at, heard.all, character) : 0)
  );
}

/** 0..1: how much a chord is at home: one on the tonic with the key's third is, one without a third half. */
function homeOf(finding: ChordFinding | undefined, tonic: number, mode: Mode, sevenths: number): number {
  if (!finding?.chord || finding.chord.root !== tonic) return 0;
  const { tones } = finding.chord.quality;
  const [third, other] = hasMinorThird(mode) ? [3, 4] : [4, 3];
  if (!tones.includes(third)) return tones.includes(other) ? 0 : 0.5;
  const isDominant = third === 4 && tones.includes(10);
  return !isDominant ? 1 : mode === 'mixolydian' ? Math.max(DOMINANT_HOME, sevenths) : sevenths;
}

/** A dominant seventh on the tonic wants to go on; but where all chords are sevenths, as in a blues, they are color (common practice). */
const SEVENTH_HOME = 0.3;
const SEVENTH_HOME_OF_BLUES = 0.8;

/** What it is worth, as a cadence, that the chords are those of a blues on the tonic. */
const BLUES_CADENCE = 0.5;

/** The root that has its fourth and its fifth beside it, where nearly all chords stand on these three. */
function tonicOfThree(chords: readonly ChordFinding[]): number | null {
  const count = (root: number) => chords.filter(({ chord }) => chord!.root === pitchClass(root)).length;
  for (let tonic = 0; tonic < 12; tonic++) {
    const three = [tonic, tonic + 5, tonic + 7].map(count);
    if (three.every((times) => times > 0) && sumOf(three) >= 0.85 * chords.length) return tonic;
  }
  return null;
}

/** Whether nearly all chords with a major third have the dominant seventh too, and there are several of them. */
function isAllSevenths(chords: readonly ChordFinding[]): boolean {
  const major = chords.filter(({ chord }) => chord!.quality.tones.includes(4));
  const roots = new Set(major.map(({ chord }) => chord!.root));
  const sevenths = major.filter(({ chord }) => chord!.quality.tones.includes(10)).length;
  return roots.size >= 3 && major.length >= 0.8 * chords.length && sevenths >= 0.75 * major.length;
}

/** -1..1: how much the third of a key sounds rather than the other; what hardly sounds tells nothing. */
function ownThird(at: (step: number) => number, all: number, isMinor: boolean): number {
  const [own, other] = isMinor ? [at(3), at(4)] : [at(4), at(3)];
  return (own - other) / Math.max(own + other, CHARACTER_SHARE * all);
}

/** What the first and the last of some chords say of any key. */
function endsOf(
  chords: readonly ChordFinding[],
  { first, last, firstOfRound, firstOfTurn }: KeyWeights,
): Pick<KeyWeights, 'first' | 'last'> {
  if (goesRound(chords)) return { first: firstOfRound, last: 0 };
  if (turnsBack(chords)) return { first: firstOfTurn, last: 0 };
  return { first, last };
}

/** Whether the last chord is the dominant of the first, and so leads back to the beginning. */
function turnsBack(chords: readonly ChordFinding[]): boolean {
  const [first, last] = [chords[0]?.chord, chords.at(-1)?.chord];
  return Boolean(first && last && last.root === pitchClass(first.root + 7) && last.quality.tones.includes(4));
}

/** Whether the changes are one round after another, two at least, that ends on another chord than it begins. */
function goesRound(chords: readonly ChordFinding[]): boolean {
  const roots = chords.map(({ chord }) => chord!.root);
  if (roots.at(-1) === roots[0]) return false;
  for (let round = 2; round * 2 <= roots.length; round++) {
    if (roots.length % round > 0) continue;
    const same = roots.filter((root, k) => k >= round && root === roots[k - round]).length;
    if (same >= ROUND_ALIKE * (roots.length - round)) return true;
  }
  return false;
}

/** So many of the changes of a round come again. */
const ROUND_ALIKE = 0.85;

/** -1..1: how much a mode's own degree sounds against the usual one; where hardly either does, as if it did not. */
function characterOf(
  at: (step: number) => number,
  all: number,
  [own, usual]: readonly [number, number],
): number {
  const [ours, theirs] = [at(own), at(usual)];
  const heard = Math.min(1, (ours + theirs) / all / CHARACTER_SHARE);
  return heard === 0 ? -1 : heard * ((ours - theirs) / (ours + theirs)) - (1 - heard);
}

/** So much of what sounds must be one of the two degrees for them to tell all they can. */
const CHARACTER_SHARE = 0.035;

/** Share of the changes of chord that fall from a major or dominant fifth above onto the tonic, four in ten being all. */
function cadences({ falls, changes }: Heard, home: (finding: ChordFinding) => number): number {
  if (changes < 1) return 0;
  return Math.min(1, falls.reduce((sum, finding) => sum + home(finding), 0) / changes / 0.4);
}

/** Pearson's correlation of what sounds with a profile on a tonic; 0 where all sounds alike. */
function likenessTo(shape: readonly number[], { sounding, spread }: Heard, tonic: number): number {
  if (spread === 0) return 0;
  let cross = 0;
  for (let step = 0; step < 12; step++) cross += shape[step]! * sounding[(tonic + step) % 12]!;
  return cross / spread;
}

/** The profiles of all modes with their mean taken away and of length 1: what a correlation needs of them. */
const PROFILE_SHAPES = Object.fromEntries(
  (Object.keys(KEY_PROFILES) as KeyProfile[]).map((name) => [
    name,
    Object.fromEntries(MODES.map((mode) => [mode, shapeOf(modeProfile(mode, name))])),
  ]),
) as Record<KeyProfile, Record<Mode, readonly number[]>>;

function shapeOf(profile: readonly number[]): readonly number[] {
  const middle = mean(profile);
  const length = Math.sqrt(sumOf(profile.map((value) => (value - middle) ** 2)));
  return profile.map((value) => (value - middle) / length);
}

/** The profile of a mode: major's or minor's, in a church mode with its own degree and the usual one changed about. */
function modeProfile(mode: Mode, name: KeyProfile): readonly number[] {
  const isMinor = hasMinorThird(mode);
  const profile = [...KEY_PROFILES[name][isMinor ? 'minor' : 'major']];
  const character = CHARACTER[mode];
  if (character) {
    const [own, usual] = character;
    [profile[own], profile[usual]] = [profile[usual]!, profile[own]!];
  }
  return profile;
}

function total(segments: readonly Float64Array[]): number[] {
  return Array.from({ length: 12 }, (_, pc) => segments.reduce((sum, segment) => sum + segment[pc]!, 0));
}
