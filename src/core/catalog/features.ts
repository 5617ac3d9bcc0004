import type { ChangesChord } from '../analyze/changes.ts';
import { featuresOf, type Played } from '../analyze/features.ts';
import { findFeel, type Feel } from '../analyze/feel.ts';
import { parseSymbol } from '../music/chord.ts';
import type { Key } from '../music/key.ts';
import { pitchClass } from '../music/pitch.ts';
import { barTicks, meterAt } from '../music/timeline.ts';
import { median, percentile } from '../numbers.ts';
import { loudMark } from '../normalize/step.ts';
import { unitsOf } from '../phrase/units.ts';
import { isPitched, type Clip } from '../phrase/clip.ts';

/** Onset places of a bar that are told apart: eighths of it. */
export const PLACES = 8;

/** Numbers a phrase is found and compared by. Beats are quarter notes, pitches MIDI's, velocities 1..127. */
export const FEATURES = [
  'strokes',
  /** Strokes a bar, where anything is played. */
  'density',
  /** 0..1 (`featuresOf`). */
  'syncopation',
  'low',
  'high',
  'medianPitch',
  /** Notes together, at the mean while any sounds, and at the most. */
  'polyphony',
  'mostTogether',
  /** Of notes, in beats. */
  'medianLength',
  'longest',
  /** Which of `FEEL_GRIDS`. */
  'grid',
  /** Long share of a pair of eighths, and its standard error; -1 where nothing tells. */
  'swing',
  'swingError',
  'tightnessMs',
  /** Where the loudest twentieth of the notes begins, and how far the softest lie under it. */
  'loud',
  'spread',
  /** Share of notes under `GHOST`. */
  'ghosts',
  /** Share of the strokes in each eighth of the bar. */
  ...Array.from({ length: PLACES }, (_, k) => `place${k}` as const),
  /** Share of the time that chords on each degree sound, in semitones over the tonic. */
  ...Array.from({ length: 12 }, (_, k) => `degree${k}` as const),
] as const;

export type FeatureName = (typeof FEATURES)[number];

export type PhraseFeatures = Record<FeatureName, number>;

export const FEEL_GRIDS: readonly Feel['grid'][] = ['free', '1/4', '1/8', '1/8 triplet', '1/16'];

/** Struck softer than this, a note is a ghost note (common practice). */
const GHOST = 40;

/** The long share of a pair of eighths, -1 where nothing tells. */
export function swingOf(clip: Clip): number {
  return findFeel(playedIn(clip), [...clip.notes.keys()]).swing ?? -1;
}

/** Features of a phrase with the changes under it, in the key they are numbered in. Null where it has no notes. */
export function phraseFeatures(
  clip: Clip,
  changes: readonly ChangesChord[],
  key: Key | null,
): PhraseFeatures | null {
  const { notes } = clip;
  const played = playedIn(clip);
  const all = [...notes.keys()];
  const found = featuresOf(played, all);
  if (!found) return null;
  const feel = findFeel(played, all);
  const beats = notes.map(({ duration }) => duration / clip.timeline.ppq);
  const velocities = notes.map(({ velocity }) => velocity);
  const strokes = unitsOf(clip);
  const loud = loudMark(notes);
  const numbers = {
    strokes: strokes.length,
    density: found.density,
    syncopation: found.syncopation,
    low: found.low,
    high: found.high,
    medianPitch: median(notes.map(({ pitch }) => pitch)),
    polyphony: found.polyphony,
    mostTogether: found.mostTogether,
    medianLength: median(beats),
    longest: percentile(beats, 1),
    grid: FEEL_GRIDS.indexOf(feel.grid),
    swing: feel.swing ?? -1,
    swingError: feel.swingError ?? -1,
    tightnessMs: feel.tightnessMs,
    loud,
    spread: loud - percentile(velocities, 0.05),
    ghosts: velocities.filter((velocity) => velocity < GHOST).length / velocities.length,
  };
  const places = placesOf(
    clip,
    strokes.map((unit) => unit[0]!.tick),
  );
  const degrees = isPitched(clip) && key ? degreesOf(changes, key) : Array<number>(12).fill(0);
  return Object.fromEntries(
    [...Object.values(numbers), ...places, ...degrees].map((value, k) => [FEATURES[k]!, value]),
  ) as PhraseFeatures;
}

/** The notes of a clip as those of a take are read. */
function playedIn({ notes, timeline }: Clip): Played {
  return {
    timing: { timeline },
    notes: {
      tick: notes.map(({ tick }) => tick),
      duration: notes.map(({ duration }) => duration),
      pitch: notes.map(({ pitch }) => pitch),
    },
  };
}

/** Share of the strokes, which begin at these ticks, in each eighth of the bar. */
export function placesOf({ timeline, pickup }: Clip, ticks: readonly number[]): number[] {
  const bar = barTicks(timeline.ppq, meterAt(timeline, pickup));
  const counts = Array<number>(PLACES).fill(0);
  for (const tick of ticks) counts[Math.round(((tick % bar) / bar) * PLACES) % PLACES]! += 1 / ticks.length;
  return counts;
}

/** Share of the sounding time of chords by the degree of their root. */
function degreesOf(changes: readonly ChangesChord[], key: Key): number[] {
  const shares = Array<number>(12).fill(0);
  let all = 0;
  for (const { symbol, beats } of changes) {
    const chord = parseSymbol(symbol);
    if (!chord) continue;
    shares[pitchClass(chord.root - key.tonic)]! += beats;
    all += beats;
  }
  return shares.map((share) => (all > 0 ? share / all : 0));
}

/** As 32-bit floats, little-endian, in the order of `FEATURES`. */
export function packFeatures(features: PhraseFeatures): Uint8Array {
  const view = new DataView(new ArrayBuffer(4 * FEATURES.length));
  FEATURES.forEach((name, k) => view.setFloat32(4 * k, features[name] ?? 0, true));
  return new Uint8Array(view.buffer);
}

/** @throws RangeError where these are no features of this version */
export function unpackFeatures(bytes: Uint8Array): Float32Array {
  if (bytes.length !== 4 * FEATURES.length) throw new RangeError('These bytes are no features of a phrase.');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return Float32Array.from(FEATURES, (_, k) => view.getFloat32(4 * k, true));
}

/** Where a feature stands among the others. */
export function featureAt(name: FeatureName): number {
  return FEATURES.indexOf(name);
}
