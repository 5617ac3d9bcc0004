import type { ChartChord } from '../music/chart.ts';
import { pitchClass } from '../music/pitch.ts';
import type { Played } from './performance.ts';

export function chordOn(bar: ChartChord[], beat: number): ChartChord {
  return bar.findLast((chord) => chord.beat <= beat) ?? bar[0]!;
}

/** Pitch classes as pitches, each in the octave nearest above a floor of half an octave under the center. */
export function closeVoicing(tones: readonly number[], center: number): number[] {
  const floor = center - 6;
  return tones.map((tone) => floor + pitchClass(tone - floor)).sort((a, b) => a - b);
}

export function chordAt(
  chord: ChartChord,
  tick: number,
  length: number,
  center: number,
  velocity: number,
): Played[] {
  return closeVoicing(chord.tones, center).map((pitch) => ({ tick, length, pitch, velocity }));
}

/**
 * The inversion of a chord that moves least from the one before; in root position around the center where
 * there is none before.
 */
export function leastMovement(tones: readonly number[], before: readonly number[], center: number): number[] {
  const stacked = tones.reduce<number[]>((pitches, tone) => {
    const below = pitches.at(-1) ?? center - 7;
    return [...pitches, below + 1 + pitchClass(tone - below - 1)];
  }, []);
  if (before.length === 0) return stacked;
  const candidates = [-2, -1, 0, 1, 2].flatMap((octave) =>
    tones.map((_, inversion) =>
      stacked.map((pitch, i) => pitch + 12 * octave + (i < inversion ? 12 : 0)).sort((a, b) => a - b),
    ),
  );
  const middle = (pitches: readonly number[]) =>
    pitches.reduce((sum, pitch) => sum + pitch, 0) / pitches.length;
  const movement = (pitches: number[]) =>
    pitches.reduce((sum, pitch) => sum + Math.min(...before.map((old) => Math.abs(old - pitch))), 0) +
    // Without a pull to its center a hand would wander off over a long take.
    Math.abs(middle(pitches) - center) / 10;
  return candidates.reduce((best, candidate) => (movement(candidate) < movement(best) ? candidate : best));
}
