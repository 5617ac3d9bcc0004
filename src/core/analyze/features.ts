import { divisionsOf } from '../music/meters.ts';
import { barStart, meterAt, positionAt, type Timeline } from '../music/timeline.ts';

/** Notes in time: of a take, or of a phrase. Ticks, and MIDI pitches. */
export interface Played {
  timing: { timeline: Timeline };
  notes: { tick: ArrayLike<number>; duration: ArrayLike<number>; pitch: ArrayLike<number> };
}

/** What some notes are like, in numbers: what tags and search go by. */
export interface Features {
  /** Strokes a bar, where anything is played. */
  density: number;
  /** MIDI pitches. */
  low: number;
  high: number;
  /** Notes that sound together, at the mean while any sounds, and at the most. */
  polyphony: number;
  mostTogether: number;
  /** 0..1: strokes on weak places that are held over, or followed by silence on, stronger ones. */
  syncopation: number;
}

/** Places of a bar that are told apart, in quarter notes. */
const STEP = 1 / 4;

/** Features of some notes; null where there are none. */
export function featuresOf(take: Played, indices: readonly number[]): Features | null {
  if (indices.length === 0) return null;
  const pitches = indices.map((i) => take.notes.pitch[i]!);
  const bars = placesByBar(take, indices);
  const strokes = [...bars.values()].reduce((sum, places) => sum + places.size, 0);
  return {
    density: Math.round((10 * strokes) / bars.size) / 10,
    low: Math.min(...new Set(pitches)),
    high: Math.max(...new Set(pitches)),
    ...polyphonyOf(take, indices),
    syncopation: syncopationOf(take, bars),
  };
}

/** By bar, the sixteenths on which something begins. */
function placesByBar(take: Played, indices: readonly number[]): Map<number, Set<number>> {
  const { timeline } = take.timing;
  const step = timeline.ppq * STEP;
  const bars = new Map<number, Set<number>>();
  for (const i of indices) {
    const tick = take.notes.tick[i]! + step / 2;
    const { bar } = positionAt(timeline, tick);
    const places = bars.get(bar) ?? new Set();
    places.add(Math.floor((tick - barStart(timeline, bar)) / step));
    bars.set(bar, places);
  }
  return bars;
}

function polyphonyOf(take: Played, indices: readonly number[]): Pick<Features, 'polyphony' | 'mostTogether'> {
  const { tick, duration } = take.notes;
  const changes = indices
    .flatMap((i) => [[tick[i]!, 1] as const, [tick[i]! + Math.max(1, duration[i]!), -1] as const])
    .sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  let [sounding, most, area, time, before] = [0, 0, 0, 0, 0];
  for (const [at, by] of changes) {
    if (sounding > 0) {
      area += sounding * (at - before);
      time += at - before;
    }
    before = at;
    sounding += by;
    most = Math.max(most, sounding);
  }
  return { polyphony: Math.round((10 * area) / Math.max(1, time)) / 10, mostTogether: most };
}

/**
 * Syncopation after Longuet-Higgins & Lee, "The rhythmic interpretation of monophonic music" (Music Perception 1, 1984): a
 * stroke on a weak place with none on the next stronger place counts by how much stronger that is. The mean a bar,
 * over the most that a bar of sixteenths can have.
 */
function syncopationOf(take: Played, bars: ReadonlyMap<number, ReadonlySet<number>>): number {
  const { timeline } = take.timing;
  let sum = 0;
  let most = 0;
  for (const [bar, places] of bars) {
    const start = barStart(timeline, bar);
    const divisions = divisionsOf(meterAt(timeline, start));
    const steps = divisions.reduce((product, by) => product * by, 1);
    const next = bars.get(bar + 1);
    for (const place of places) {
      const weight = placeLevel(place, divisions);
      // The strongest place before the next stroke, the first of the next bar among them.
      let silent = weight;
      for (let after = place + 1; after <= steps; after++) {
        if (after < steps ? places.has(after) : (next?.has(0) ?? true)) break;
        silent = Math.max(silent, placeLevel(after % steps, divisions));
      }
      sum += silent - weight;
    }
    most += steps / 2;
  }
  return Math.round((100 * sum) / Math.max(1, most)) / 100;
}

/**
 * How strong a place of the bar is: 0 for its first, -1 where it is first divided, -2 where those parts are, and so
 * on. `divisions` is how a bar is divided, step by step: 4/4 in sixteenths is 2 2 2 2, 3/4 is 3 2 2, 6/8 is 2 3 2.
 */
export function placeLevel(place: number, divisions: readonly number[]): number {
  let grid = divisions.reduce((product, by) => product * by, 1);
  if (place % grid === 0) return 0;
  for (const [level, by] of divisions.entries()) {
    grid /= by;
    if (place % grid === 0) return -1 - level;
  }
  return -divisions.length - 1;
}
