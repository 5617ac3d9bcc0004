import type { Take } from '../capture/take.ts';
import { barTicks, meterAt } from '../music/timeline.ts';

/** Pitches of kicks, and of snares, side stick and clap (General MIDI percussion map). */
export const KICKS: ReadonlySet<number> = new Set([35, 36]);
export const SNARES: ReadonlySet<number> = new Set([37, 38, 39, 40]);
const HAT = new Set([42, 44, 46, 51, 53, 59]);

/** What some notes have of a kit. All 0..1, but `pieces` and `pitches`. */
export interface KitSigns {
  /** Notes on kick, snare or hat, where at least two of the three are there. */
  heart: number;
  /** How many of kick, snare and hat there are. */
  pieces: number;
  /** How often a note comes back on the same sixteenth of the other bars. */
  repetition: number;
  /** Steps of a scale from one note to the next. */
  steps: number;
  /** Notes of pitches that sound both alone and together with others: pieces of a kit meet freely. */
  free: number;
  /** Number of pitches. */
  pitches: number;
  /** See `misfit`; null where nothing else makes a harmony. */
  misfit: number | null;
}

export function kitSigns(take: Take, indices: readonly number[], misfit: number | null): KitSigns {
  const { notes } = take;
  const share = (is: (i: number) => boolean) => indices.filter(is).length / Math.max(1, indices.length);
  const pitch = (i: number) => notes.pitch[i]!;
  const pieces = [KICKS, SNARES, HAT].filter((piece) => share((i) => piece.has(pitch(i))) >= 0.03).length;
  return {
    heart: pieces < 2 ? 0 : share((i) => KICKS.has(pitch(i)) || SNARES.has(pitch(i)) || HAT.has(pitch(i))),
    pieces,
    repetition: repetitionOf(take, indices),
    steps: stepShare(take, indices),
    free: freeShare(take, indices),
    pitches: new Set(indices.map(pitch)).size,
    misfit,
  };
}

/** For each note the share of the other bars that have it too: its pitch on the same sixteenth. */
function returns(take: Take, indices: readonly number[]): number[] {
  const { ppq } = take.timing.timeline;
  const grid = ppq / 4;
  const perBar = Math.max(1, Math.round(barTicks(ppq, meterAt(take.timing.timeline, 0)) / grid));
  const bars = new Set<number>();
  const places = new Map<number, Set<number>>();
  const placeOf = (i: number) => {
    const step = Math.round(take.notes.tick[i]! / grid);
    return { bar: Math.floor(step / perBar), place: take.notes.pitch[i]! * 1024 + (step % perBar) };
  };
  for (const i of indices) {
    const { bar, place } = placeOf(i);
    bars.add(bar);
    const seen = places.get(place);
    if (seen) seen.add(bar);
    else places.set(place, new Set([bar]));
  }
  if (bars.size < 2) return indices.map(() => 0.3);
  return indices.map((i) => (places.get(placeOf(i).place)!.size - 1) / (bars.size - 1));
}

function repetitionOf(take: Take, indices: readonly number[]): number {
  return returns(take, indices).reduce((sum, share) => sum + share, 0) / Math.max(1, indices.length);
}

/** The notes that come back in at least a share of the bars. */
export function comingBack(take: Take, indices: readonly number[], share: number): number[] {
  const shares = returns(take, indices);
  return indices.filter((_, k) => shares[k]! >= share);
}

function stepShare(take: Take, indices: readonly number[]): number {
  let steps = 0;
  for (let k = 1; k < indices.length; k++) {
    const by = Math.abs(take.notes.pitch[indices[k]!]! - take.notes.pitch[indices[k - 1]!]!);
    if (by === 1 || by === 2) steps++;
  }
  return steps / Math.max(1, indices.length - 1);
}

function freeShare(take: Take, indices: readonly number[]): number {
  const { notes, timing } = take;
  // A 32nd note: what a loose hand spreads a chord over, and half of what parts two sixteenths.
  const close = timing.timeline.ppq / 8;
  const alone = new Map<number, number>();
  const stacked = new Map<number, number>();
  for (let k = 0; k < indices.length;) {
    let end = k + 1;
    while (end < indices.length && notes.tick[indices[end]!]! - notes.tick[indices[k]!]! < close) end++;
    const seen = end - k > 1 ? stacked : alone;
    for (; k < end; k++) {
      const pitch = notes.pitch[indices[k]!]!;
      seen.set(pitch, (seen.get(pitch) ?? 0) + 1);
    }
  }
  let free = 0;
  for (const [pitch, count] of alone) free += stacked.has(pitch) ? count + stacked.get(pitch)! : 0;
  return free / Math.max(1, indices.length);
}

/**
 * Weights of a logistic model of the signs, fitted by `bench/kit-model.ts` to the 219 parts of 31 real files (Debian's
 * openttd-openmsx, kits known by channel 10) and to the stand-ins; leaving each file out in turn, it finds every
 * kit and takes one other part for one.
 */
const WEIGHTS = {
  misfit: 5.55,
  alone: -0.41,
  pieces: 2.42,
  heart: 2.67,
  repetition: 3.88,
  steps: -0.67,
  free: 1.77,
  pitches: -1.45,
  rest: -8.69,
};

/** The signs as the model takes them. A misfit of 0.4 says all that a misfit can. */
export function kitFeatures(signs: KitSigns): Record<Exclude<keyof typeof WEIGHTS, 'rest'>, number> {
  const { misfit, pieces, heart, repetition, steps, free, pitches } = signs;
  return {
    misfit: Math.min(1, (misfit ?? 0.2) / 0.4),
    alone: misfit === null ? 1 : 0,
    pieces: pieces / 3,
    heart,
    repetition,
    steps,
    free,
    pitches: Math.min(1, pitches / 24),
  };
}

/** How likely some notes are a drum kit, 0..1. `misfit` as the function of that name gives it. */
export function kitLikeness(take: Take, indices: readonly number[], misfit: number | null): number {
  return indices.length < FEWEST_HITS ? 0 : likenessOf(kitSigns(take, indices, misfit));
}

/** How likely notes with these signs are a kit, 0..1. */
export function likenessOf(signs: KitSigns): number {
  // With nothing to hold it against, what always comes together are chords, and what never does is a line.
  if (signs.misfit === null && signs.free < FREE_ALONE) return 0;
  // Broken chords under a tune fit it as badly as a kit does; but of so many pieces some would meet, or all come back in every bar.
  if (signs.free < HARDLY_FREE && signs.pitches > PIECES_APART && signs.repetition < A_GROOVE) return 0;
  let sum = WEIGHTS.rest;
  const features = kitFeatures(signs);
  for (const [name, value] of Object.entries(features)) sum += WEIGHTS[name as keyof typeof features] * value;
  return 1 / (1 + Math.exp(-sum));
}

/** The least share of notes whose pitch comes both alone and together, of a kit that nothing else proves one. */
export const FREE_ALONE = 0.35;

/** Of a groove of more pieces than these, more notes than this share are of pieces that meet and part (common practice). */
const PIECES_APART = 5;
const HARDLY_FREE = 0.1;

/** What comes back on its sixteenth in so many of the other bars is a groove; broken chords change with the harmony. */
const A_GROOVE = 0.75;

/** Fewer notes are no groove. */
const FEWEST_HITS = 8;

/** From here on notes are taken for a kit. */
export const KIT_ENOUGH = 0.5;
