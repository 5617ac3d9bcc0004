import type { ChordFinding } from './chords.ts';
import type { Chroma } from './chroma.ts';
import { correlation, KRUMHANSL, type KeyFinding } from './key.ts';
import { MODE_STEPS, MODES, type Mode } from '../music/key.ts';
import { pitchClass } from '../music/pitch.ts';

/**
 * Key profiles: Krumhansl & Kessler's; Temperley's revision of them (1999) and Albrecht & Shanahan's (2013), both typed
 * from memory.
 */
export const KEY_PROFILES = {
  krumhansl: KRUMHANSL,
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

/** Steps of a mode; the minor one may also raise its seventh (harmonic minor). */
function scaleOf(mode: Mode): readonly number[] {
  return mode === 'minor' ? [...MODE_STEPS.minor, 11] : MODE_STEPS[mode];
}

/** A church mode is major or minor with these two degrees changed for each other: its own against the usual one. */
const CHARACTER: Partial<Record<Mode, readonly [own: number, usual: number]>> = {
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
  cadence: number;
  fit: number;
  bass: number;
  /** What a church mode must make up for: it is rarer. */
  modal: number;
}

export const KEY_WEIGHTS: KeyWeights = {
  profile: 'albrecht',
  profileWeight: 1,
  first: 0.25,
  last: 0.35,
  cadence: 0.5,
  fit: 1.2,
  bass: 0.3,
  modal: 0.12,
};

/** How sharply a lead in score becomes a lead in certainty. */
const SHARPNESS = 7;

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
  const sounding = total(chroma.weights);
  if (sounding.every((weight) => weight === 0)) return [];
  const bass = total(chroma.bass);
  const named = chords.filter(({ chord }) => chord !== null);
  const scored = MODES.filter((mode) => mode !== 'locrian').flatMap((mode) =>
    Array.from({ length: 12 }, (_, tonic) => ({
      tonic,
      mode,
      score: keyScore({ tonic, mode }, sounding, bass, named, weights),
    })),
  );
  scored.sort((a, b) => b.score - a.score);
  const spread = scored.map(({ score }) => Math.exp(SHARPNESS * (score - scored[0]!.score)));
  const sum = spread.reduce((all, value) => all + value, 0);
  return scored.map(({ tonic, mode }, i) => ({ tonic, mode, certainty: spread[i]! / sum }));
}

function keyScore(
  { tonic, mode }: { tonic: number; mode: Mode },
  sounding: readonly number[],
  bass: readonly number[],
  chords: readonly ChordFinding[],
  weights: KeyWeights,
): number {
  const isMinor = MODE_STEPS[mode].includes(3);
  const turned = sounding.map((_, pc) => sounding[pitchClass(pc + tonic)]!);
  const all = turned.reduce((sum, weight) => sum + weight, 0);
  const fit = scaleOf(mode).reduce((sum, step) => sum + turned[step]!, 0) / all;
  const lowest = bass.reduce((sum, weight) => sum + weight, 0);
  // A chord on the tonic with the key's third is home; one without a third half.
  const isHome = (finding: ChordFinding | undefined) => {
    if (!finding?.chord || finding.chord.root !== tonic) return 0;
    const { tones } = finding.chord.quality;
    return tones.includes(isMinor ? 3 : 4) ? 1 : tones.includes(isMinor ? 4 : 3) ? 0 : 0.5;
  };
  return (
    weights.profileWeight * correlation(turned, profileOf(mode, weights.profile)) +
    weights.first * isHome(chords[0]) +
    weights.last * isHome(chords.at(-1)) +
    weights.cadence * cadences(chords, tonic, isHome) +
    weights.fit * fit +
    (lowest > 0 ? weights.bass * (bass[tonic]! / lowest) : 0) -
    (CHARACTER[mode] ? weights.modal : 0)
  );
}

/** Share of the changes of chord that fall from a major or dominant fifth above onto the tonic, four in ten being all. */
function cadences(
  chords: readonly ChordFinding[],
  tonic: number,
  isHome: (finding: ChordFinding) => number,
): number {
  if (chords.length < 2) return 0;
  const fifth = pitchClass(tonic + 7);
  let falls = 0;
  for (let k = 1; k < chords.length; k++) {
    const { chord } = chords[k - 1]!;
    if (chord?.root === fifth && chord.quality.tones.includes(4)) falls += isHome(chords[k]!);
  }
  return Math.min(1, falls / (chords.length - 1) / 0.4);
}

function profileOf(mode: Mode, name: KeyProfile): readonly number[] {
  const isMinor = MODE_STEPS[mode].includes(3);
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
