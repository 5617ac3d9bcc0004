import {
  chosen,
  readingsOf,
  BEAT_WEIGHTS,
  type BeatFinding,
  type BeatWeights,
  type Reading,
} from '../../src/core/analyze/beats.ts';
import { onsetsOf } from '../../src/core/analyze/onsets.ts';
import { splitTake } from '../../src/core/split/split.ts';
import type { FreeTake } from './free-takes.ts';

/** Half-width of the window in which a beat counts as found, in seconds: the usual one in beat-tracking evaluation. */
const WINDOW = 0.07;

/** F-measure of found against true moments, each found once. */
export function fMeasure(found: readonly number[], truth: readonly number[]): number {
  let hits = 0;
  let at = 0;
  for (const moment of truth) {
    while (at < found.length && found[at]! < moment - WINDOW) at++;
    if (at < found.length && found[at]! <= moment + WINDOW) {
      hits++;
      at++;
    }
  }
  return found.length + truth.length === 0 ? 1 : (2 * hits) / (found.length + truth.length);
}

export interface BeatScore {
  name: string;
  drift: string;
  beats: number;
  downbeats: number;
  /** Found tempo over true tempo. */
  octave: number;
}

export function readingsFor(take: FreeTake): Reading[] {
  return readingsOf(onsetsOf(take.take, splitTake(take.take)));
}

export function scoreFinding(free: FreeTake, found: BeatFinding | null): BeatScore {
  const { name, drift, beats, downbeats } = free;
  const lines = found?.beats.filter((_, k) => (k - found.firstDownbeat) % found.beatsPerBar === 0) ?? [];
  const middle = (list: readonly number[]) =>
    list
      .slice(1)
      .map((beat, k) => beat - list[k]!)
      .sort((a, b) => a - b)[(list.length - 1) >> 1]!;
  return {
    name,
    drift,
    beats: fMeasure(found?.beats ?? [], beats),
    downbeats: fMeasure(lines, downbeats),
    octave: found ? middle(beats) / middle(found.beats) : 0,
  };
}

export function scoreBeats(takes: readonly FreeTake[], weights: BeatWeights = BEAT_WEIGHTS): BeatScore[] {
  return takes.map((free) => scoreFinding(free, chosen(readingsFor(free), weights)));
}
