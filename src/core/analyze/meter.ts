import type { Take } from '../capture/take.ts';
import { pitchClass } from '../music/pitch.ts';
import { UNPITCHED } from '../split/roles.ts';
import { playingParts, type Split } from '../split/split.ts';
import { MOST_BARS } from './chroma.ts';
import { mean, upperMedian } from '../numbers.ts';

/** A meter that the strokes of a take speak for, against the one that is assumed. */
export interface MeterFinding {
  numerator: number;
  denominator: number;
  /** 0..1: how alike what plays is after one bar and after two. */
  likeness: number;
  /** The same for the assumed 4/4. */
  assumed: number;
  certainty: number;
}

/** Meters that are told apart, and the length of their bars in quarter notes (common practice). */
const CANDIDATES: readonly { numerator: number; denominator: number; quarters: number }[] = [
  { numerator: 3, denominator: 4, quarters: 3 },
  { numerator: 5, denominator: 4, quarters: 5 },
  { numerator: 7, denominator: 8, quarters: 3.5 },
  { numerator: 7, denominator: 4, quarters: 7 },
];

/** What comes again after a bar is at least so alike, and by so much more than after the bar that is assumed. */
const ALIKE = 0.6;
const CLEARLY = 0.2;

/** Fewer quarter notes of music tell nothing. */
const FEWEST = 16;

/** Places in a quarter note. */
const STEPS = 4;

/**
 * What meter a take is in that its file gives none for: what plays is held against itself after each bar length. A groove that is
 * alike after three quarters and six and not after four is no 4/4. Null where 4/4 stands, or nothing tells.
 */
export function findMeter(take: Take, split: Split): MeterFinding | null {
  if (take.timing.meters.length > 0 || take.file.division.kind !== 'metrical') return null;
  const places = placesOf(take, split);
  if (places.length < FEWEST * STEPS) return null;
  const likenessOf = (quarters: number) =>
    mean([likeness(places, quarters * STEPS), likeness(places, 2 * quarters * STEPS)]);
  const assumed = Math.max(likenessOf(4), likenessOf(2));
  const [best] = CANDIDATES.map((meter) => ({ ...meter, likeness: likenessOf(meter.quarters) })).sort(
    (a, b) => b.likeness - a.likeness,
  );
  if (!best || best.likeness < ALIKE || best.likeness < assumed + CLEARLY) return null;
  const { numerator, denominator } = isCompound(places, best.quarters)
    ? { numerator: 6, denominator: 8 }
    : best;
  const certainty = Math.min(0.95, 0.5 + (best.likeness - assumed));
  return { numerator, denominator, likeness: best.likeness, assumed, certainty };
}

/**
 * Three quarters in two halves are 6/8: where bars begin (most begins there, counted over all of them), is the half more of a
 * beat than the thirds are?
 */
function isCompound(places: readonly ReadonlySet<number>[], quarters: number): boolean {
  if (quarters !== 3) return false;
  const bar = quarters * STEPS;
  const strokes = Array.from({ length: bar }, () => 0);
  for (const [at, place] of places.entries()) strokes[at % bar]! += place.size;
  const first = strokes.indexOf(Math.max(...strokes));
  const at = (quarter: number) => strokes[(first + quarter * STEPS) % bar]!;
  return at(1.5) > mean([at(1), at(2)]);
}

/**
 * What begins at each sixteenth: drums by their keys where there are any; else the pitch classes of all parts, and whether a part
 * is low or high there, which comes again also where the harmony has gone on.
 */
function placesOf(take: Take, split: Split): Set<number>[] {
  const { notes, timing } = take;
  const step = timing.timeline.ppq / STEPS;
  const playing = playingParts(split);
  const drums = playing.filter(({ part }) => part.role === 'drums' || part.role === 'percussion');
  const places: Set<number>[] = [];
  for (const [index, { part, notes: own }] of (drums.length > 0 ? drums : playing).entries()) {
    const middle = upperMedian(own.map((i) => notes.pitch[i]!));
    for (const i of own) {
      const at = Math.round(notes.tick[i]! / step);
      if (at > MOST_BARS * 16) continue;
      while (places.length <= at) places.push(new Set());
      const pitch = notes.pitch[i]!;
      if (UNPITCHED.has(part.role)) places[at]!.add(KEYS + pitch);
      else places[at]!.add(pitchClass(pitch)).add(REGISTERS + 2 * index + Number(pitch >= middle));
    }
  }
  return places;
}

/** Where the numbers of drum keys and of registers begin, above those of pitch classes. */
const KEYS = 128;
const REGISTERS = 256;

/** Share of what begins that begins again so many sixteenths later, and the other way round (Dice). */
function likeness(places: readonly ReadonlySet<number>[], lag: number): number {
  let both = 0;
  let all = 0;
  for (let at = 0; at + lag < places.length; at++) {
    const [one, other] = [places[at]!, places[at + lag]!];
    for (const what of one) if (other.has(what)) both++;
    all += one.size + other.size;
  }
  return all === 0 ? 0 : (2 * both) / all;
}
