import { mean } from '../numbers.ts';

/** A note where it is heard, in ticks of the result. */
export interface HeardNote {
  tick: number;
  duration: number;
  pitch: number;
  velocity: number;
}

/** Where a cut may lie, all in ticks. */
export interface JointPlace {
  /** The bar line. */
  line: number;
  /** How far from it a cut may lie: half a beat. */
  reach: number;
  /** What begins so little ahead of the line is meant for it. */
  early: number;
}

/** Prices of a cut: what is lost or doubled at the line, what breaks off, what it is away from the line. */
const MEANT_FOR_THE_LINE = 3;
const BEGINNING_LOST = 1.5;
const RINGS_ON = 1;
const LOST_BEFORE = 0.75;
const TOLD_TWICE = 0.5;
const AWAY = 0.5;

/**
 * The tick at which one pass ends and the next begins: what begins before it is the first one's, what begins at it or later the
 * other's. In silence, as near to the line as there is any; a push of the pass that comes is not lost, one of the pass that goes
 * not doubled.
 */
export function cutBetween(
  before: readonly HeardNote[],
  after: readonly HeardNote[],
  { line, reach, early }: JointPlace,
): number {
  const near = ({ tick, duration }: HeardNote) => tick <= line + reach && tick + duration >= line - reach;
  const [goes, comes] = [before.filter(near), after.filter(near)];
  const places = new Set([line]);
  for (const { tick, duration } of [...goes, ...comes])
    for (const place of [tick, tick + duration]) if (Math.abs(place - line) <= reach) places.add(place);
  let [best, least] = [line, Infinity];
  for (const place of places) {
    const price = priceOf(place, goes, comes, { line, reach, early });
    if (price < least - 1e-9 || (price < least + 1e-9 && Math.abs(place - line) < Math.abs(best - line)))
      [best, least] = [place, price];
  }
  return best;
}

function priceOf(
  cut: number,
  goes: readonly HeardNote[],
  comes: readonly HeardNote[],
  { line, reach, early }: JointPlace,
): number {
  let price = (AWAY * Math.abs(cut - line)) / reach;
  for (const { tick, duration } of goes) {
    if (tick < cut) {
      if (tick >= line - early) price += MEANT_FOR_THE_LINE;
      if (tick + duration > cut) price += RINGS_ON;
    } else if (tick < line - early && tick + duration <= line) price += LOST_BEFORE;
  }
  for (const { tick, duration } of comes) {
    if (tick < cut) {
      if (tick >= line - early) price += MEANT_FOR_THE_LINE;
      else if (tick + duration > cut) price += BEGINNING_LOST;
    } else if (tick < line - early && tick + duration <= line) price += TOLD_TWICE;
  }
  return price;
}

/** A step in level (velocity, 0..127) or in register (semitones) that is heard as one. */
const LEVEL_STEP = 12;
const REGISTER_STEP = 12;

/** What is told of a joint besides where it lies. */
export interface JointSteps {
  /** Mean velocity behind it less that before it, and the mean pitch likewise; 0 where a side is silent. */
  level: number;
  semitones: number;
  marks: ('level' | 'register')[];
}

/** Steps between the bar before a joint and the bar behind it; pitches of drums are none. */
export function stepsBetween(
  before: readonly HeardNote[],
  after: readonly HeardNote[],
  isPitched: boolean,
): JointSteps {
  if (before.length === 0 || after.length === 0) return { level: 0, semitones: 0, marks: [] };
  const level = Math.round(meanOf(after, 'velocity') - meanOf(before, 'velocity'));
  const semitones = isPitched ? Math.round(meanOf(after, 'pitch') - meanOf(before, 'pitch')) : 0;
  const marks: JointSteps['marks'] = [];
  if (Math.abs(level) > LEVEL_STEP) marks.push('level');
  if (Math.abs(semitones) > REGISTER_STEP) marks.push('register');
  return { level, semitones, marks };
}

function meanOf(notes: readonly HeardNote[], field: 'velocity' | 'pitch'): number {
  return mean(notes.map((note) => note[field]));
}
