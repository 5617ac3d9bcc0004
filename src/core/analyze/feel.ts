import { median, upperMedian } from '../numbers.ts';
import type { Take } from '../capture/take.ts';
import { tempoAt, ticksToSeconds } from '../music/timeline.ts';
import type { Played } from './features.ts';

/** How time is kept. */
export interface Feel {
  /** The finest grid that the onsets keep. */
  grid: '1/4' | '1/8' | '1/8 triplet' | '1/16' | 'free';
  /** Long share of a pair of eighths, 0.5 straight; null where there are no offbeats to tell by. */
  swing: number | null;
  /** One standard error of the swing, in the same share; above 0.02 it is a guess. Null where there is no swing. */
  swingError: number | null;
  /** Median distance from the grid, swing and common lateness taken in, in milliseconds. */
  tightnessMs: number;
  /** How late all of it is, in milliseconds, as told by what lies about the beats; below 0 early. */
  lateMs: number;
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
export function findFeel(take: Played, indices: readonly number[]): Feel {
  const { ppq } = take.timing.timeline;
  const msPerBeat = tempoAt(take.timing.timeline, 0).microseconds / 1000;
  const played = [...new Set(indices.map((i) => take.notes.tick[i]!))].map((tick) => (tick % ppq) / ppq);
  // First of all: an offbeat that is late with everything else is not swung.
  const late = commonLateness(played);
  const places = played.map((place) => (place - late + 1) % 1);
  const offbeats = places.filter((place) => place > 0.38 && place < 0.8);
  const swing = offbeats.length >= 4 ? upperMedian(offbeats) : null;
  const swingError = swing === null ? null : errorOfMedian(offbeats, swing);
  if (places.length < FEWEST)
    return {
      grid: 'free',
      swing: rounded(swing),
      swingError: rounded(swingError),
      tightnessMs: 0,
      lateMs: 0,
    };
  const scored = GRIDS.map(({ grid, places: on }) => {
    // Swung eighths lie where the swing puts them.
    const swung = grid === '1/8' && swing !== null ? [0, swing] : on;
    const distances = places.map((place) => Math.min(...[...swung, 1].map((at) => Math.abs(place - at))));
    const squares = distances.reduce((sum, distance) => sum + distance ** 2, 0) / distances.length;
    return { grid, distances, cost: squares + FINER * swung.length };
  });
  const best = scored.reduce((a, b) => (b.cost < a.cost ? b : a));
  const middle = upperMedian(best.distances) * msPerBeat;
  return {
    grid: middle > 60 ? 'free' : best.grid,
    swing: rounded(swing),
    swingError: rounded(swingError),
    tightnessMs: Math.round(middle * 10) / 10,
    lateMs: Math.round(late * msPerBeat * 10) / 10,
  };
}

/**
 * How far onsets lie behind the places of a feel's grid, in milliseconds, below 0 before them, each stroke once; swing and common lateness
 * taken in. Empty where there is no grid.
 */
export function distancesFromGrid(take: Played, indices: readonly number[], feel: Feel): number[] {
  const own = GRIDS.find(({ grid }) => grid === feel.grid);
  if (!own) return [];
  const { ppq } = take.timing.timeline;
  const msPerBeat = tempoAt(take.timing.timeline, 0).microseconds / 1000;
  const places = feel.grid === '1/8' && feel.swing !== null ? [0, feel.swing, 1] : [...own.places, 1];
  return [...new Set(indices.map((i) => take.notes.tick[i]!))].map((tick) => {
    const place = ((tick % ppq) / ppq - feel.lateMs / msPerBeat + 1) % 1;
    const distances = places.map((at) => place - at);
    return distances.reduce((a, b) => (Math.abs(b) < Math.abs(a) ? b : a)) * msPerBeat;
  });
}

/** About a beat means so near to it, in beats: less than half of the way to a triplet or a sixteenth. */
const ABOUT_A_BEAT = 0.12;

/**
 * By how many beats the onsets about the beats are late, below 0 early; 0 where that may be chance. The middle of them, looked
 * for again around what was found until it stays: what lies between the beats, a triplet or a swung offbeat, has no part in it.
 */
function commonLateness(places: readonly number[]): number {
  let late = 0;
  let error = Infinity;
  for (let round = 0; round < 4; round++) {
    const about = places
      .map((place) => place - late - Math.round(place - late))
      .filter((distance) => Math.abs(distance) < ABOUT_A_BEAT);
    if (about.length < FEWEST / 2) return 0;
    const middle = median(about);
    late += middle;
    error = errorOfMedian(about, middle);
  }
  return Math.abs(late) > SURELY * error && Math.abs(late) < ABOUT_A_BEAT * 1.5 ? late : 0;
}

/** So many standard errors from 0 are no chance. */
const SURELY = 3;

/** A standard error of a median: 1.25 times that of a mean, by the middle distance from it (1.48 of it is a deviation). */
function errorOfMedian(values: readonly number[], middle: number): number {
  const distance = upperMedian(values.map((value) => Math.abs(value - middle)));
  return (1.25 * 1.48 * distance) / Math.sqrt(values.length);
}

/** Where a part's strokes lie against those of the others that are meant for the same moment. */
export interface Lateness {
  /** Ms after the others at the median; below 0 before them. */
  ms: number;
  /** How many of its strokes others share. */
  strokes: number;
}

/** Strokes so close, in seconds, are meant for one moment. */
const ONE_MOMENT = 0.06;

/** Fewer shared strokes tell nothing. */
const FEWEST_SHARED = 6;

/** Early or late against other parts: the median distance to the middle of what they strike within 60 ms. */
export function latenessOf(
  take: Take,
  indices: readonly number[],
  others: readonly number[],
): Lateness | null {
  const seconds = (i: number) => ticksToSeconds(take.timing.timeline, take.notes.tick[i]!);
  const around = others.map(seconds).sort((a, b) => a - b);
  const own = [...new Set(indices.map(seconds))].sort((a, b) => a - b);
  const distances: number[] = [];
  let from = 0;
  for (const moment of own) {
    while (from < around.length && around[from]! < moment - ONE_MOMENT) from++;
    let to = from;
    while (to < around.length && around[to]! <= moment + ONE_MOMENT) to++;
    if (to > from) distances.push(moment - around[(from + to - 1) >> 1]!);
  }
  if (distances.length < FEWEST_SHARED) return null;
  return { ms: Math.round(upperMedian(distances) * 10_000) / 10, strokes: distances.length };
}

function rounded(value: number | null): number | null {
  return value === null ? null : Math.round(value * 1000) / 1000;
}
