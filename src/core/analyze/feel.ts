import type { Take } from '../capture/take.ts';
import { tempoAt } from '../music/timeline.ts';

/** How time is kept. */
export interface Feel {
  /** The finest grid that the onsets keep. */
  grid: '1/4' | '1/8' | '1/8 triplet' | '1/16' | 'free';
  /** Long share of a pair of eighths, 0.5 straight; null where there are no offbeats to tell by. */
  swing: number | null;
  /** Median distance from the grid, swing taken in, in milliseconds. */
  tightnessMs: number;
}

/** Fewer onsets tell nothing. */
const FEWEST = 8;

/** Places within a beat that each grid has. */
const GRIDS: readonly { grid: Exclude<Feel['grid'], 'free'>; places: readonly number[] }[] = [
  { grid: '1/4', places: [0] },
  { grid: '1/8', places: [0, 0.5] },
  { grid: '1/8 triplet', places: [0, 1 / 3, 2 / 3] },
  { grid: '1/16', places: [0, 0.25, 0.5, 0.75] },
];

/** Price of a place more, in squared beats an onset. */
const FINER = 0.0011;

/**
 * Grid, swing and tightness of some notes: the grid with the least squared distance and a price for finer ones; swing is
 * the long share of a pair of eighths, by the middle offbeat.
 */
export function findFeel(take: Take, indices: readonly number[]): Feel {
  const { ppq } = take.timing.timeline;
  const places = [...new Set(indices.map((i) => take.notes.tick[i]!))].map((tick) => (tick % ppq) / ppq);
  const offbeats = places.filter((place) => place > 0.38 && place < 0.8).sort((a, b) => a - b);
  const swing = offbeats.length >= 4 ? offbeats[offbeats.length >> 1]! : null;
  if (places.length < FEWEST) return { grid: 'free', swing: rounded(swing), tightnessMs: 0 };
  const scored = GRIDS.map(({ grid, places: on }) => {
    // Swung eighths lie where the swing puts them.
    const swung = grid === '1/8' && swing !== null ? [0, swing] : on;
    const distances = places.map((place) => Math.min(...[...swung, 1].map((at) => Math.abs(place - at))));
    const squares = distances.reduce((sum, distance) => sum + distance ** 2, 0) / distances.length;
    return { grid, distances, cost: squares + FINER * swung.length };
  });
  const best = scored.reduce((a, b) => (b.cost < a.cost ? b : a));
  const sorted = best.distances.sort((a, b) => a - b);
  const msPerBeat = tempoAt(take.timing.timeline, 0).microseconds / 1000;
  const middle = sorted[sorted.length >> 1]! * msPerBeat;
  return {
    grid: middle > 60 ? 'free' : best.grid,
    swing: rounded(swing),
    tightnessMs: Math.round(middle * 10) / 10,
  };
}

function rounded(value: number | null): number | null {
  return value === null ? null : Math.round(value * 1000) / 1000;
}
