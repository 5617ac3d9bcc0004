import { pitchClass } from '../music/pitch.ts';
import type { Register } from '../phrase/registers.ts';

/** A chord to be voiced: how it lay in the source, and the pitch classes its voices have to take. */
export interface Voiced {
  /** Pitches as they were, ascending. */
  source: readonly number[];
  /** As many pitch classes, in any order. */
  classes: readonly number[];
  /** The lowest voice has to take this one. */
  bass?: number | undefined;
  /** Set where nothing is to be chosen. */
  fixed?: readonly number[] | undefined;
}

/**
 * What a voicing costs by itself, beside the semitones its voices move (from memory). `span` keeps close position close and
 * open position open: without it, least movement alone spread triads over more than an octave.
 */
const COST = { mean: 0.1, newSemitone: 2, low: 4, outside: 3, span: 1 };

/** From which pitch up an interval may stand: below, the ear hears mud (from memory). */
export const LOW_LIMITS: readonly [below: number, least: number][] = [
  [40, 12],
  [45, 7],
  [52, 5],
  [57, 4],
  [60, 3],
];

/** So many voicings of a chord are compared. */
const MOST = 32;

/** How far beyond the source a voicing may reach, in semitones. */
const REACH = 7;

interface Candidate {
  pitches: readonly number[];
  cost: number;
}

/*
 * What breaks ties, small enough never to outweigh a semitone's tenth: nearness to the source, the larger leap, the move
 * on top.
 */
const TIE = { fromSource: 1e-5, leap: 1e-7, top: 1e-9 };

/**
 * Voicings for chords in a row, chosen together by dynamic programming so that the voices move least in all; the way back
 * from the last to the first counts where it goes round.
 */
export function chooseVoicings(
  chords: readonly Voiced[],
  register: Register | undefined,
  loops: boolean,
): number[][] {
  const columns = chords.map((chord) => candidatesOf(chord, register));
  if (columns.length === 0) return [];
  const moves = columns.map((column, at) => moveTable(columns[(at || columns.length) - 1]!, column));
  const firsts = loops && columns.length > 1 ? columns[0]!.map((_, k) => k) : [-1];
  let best: { cost: number; path: number[] } | undefined;
  for (const first of firsts) {
    const found = bestPath(columns, moves, first);
    if (!best || found.cost < best.cost) best = found;
  }
  return best!.path.map((k, at) => [...columns[at]![k]!.pitches]);
}

/** Costs of going from each candidate (row) to each of the next (column). */
function moveTable(from: readonly Candidate[], to: readonly Candidate[]): Float64Array {
  const table = new Float64Array(from.length * to.length);
  from.forEach((a, j) => to.forEach((b, k) => (table[j * to.length + k] = moveCost(a.pitches, b.pitches))));
  return table;
}

/** The cheapest way through the columns from one candidate of the first (-1: from any), back to it where it is given. */
function bestPath(columns: readonly Candidate[][], moves: readonly Float64Array[], first: number) {
  let costs = Float64Array.from(columns[0]!, ({ cost }, k) => (first >= 0 && k !== first ? Infinity : cost));
  const back: Int32Array[] = [];
  for (let at = 1; at < columns.length; at++) {
    const column = columns[at]!;
    const from = new Int32Array(column.length);
    const next = new Float64Array(column.length).fill(Infinity);
    for (let j = 0; j < costs.length; j++) {
      if (costs[j] === Infinity) continue;
      for (let k = 0; k < column.length; k++) {
        const reached = costs[j]! + moves[at]![j * column.length + k]!;
        if (reached < next[k]!) {
          next[k] = reached;
          from[k] = j;
        }
      }
    }
    costs = next.map((cost, k) => cost + column[k]!.cost);
    back.push(from);
  }
  let [last, cost] = [0, Infinity];
  costs.forEach((reached, k) => {
    const closed = first >= 0 ? reached + moves[0]![k * columns[0]!.length + first]! : reached;
    if (closed < cost) [last, cost] = [k, closed];
  });
  const path = [last];
  for (let at = back.length - 1; at >= 0; at--) path.unshift(back[at]![path[0]!]!);
  return { cost, path };
}

/** How far the voices move in semitones, paired from low to high; of unequal chords the pairs that move least. */
export function voiceMoves(a: readonly number[], b: readonly number[]): number {
  const [fewer, more] = a.length < b.length ? [a, b] : [b, a];
  let least = Infinity;
  for (let skip = 0; skip <= more.length - fewer.length; skip++) {
    let sum = 0;
    for (let k = 0; k < fewer.length; k++) sum += Math.abs(fewer[k]! - more[k + skip]!);
    if (sum < least) least = sum;
  }
  return least;
}

function moveCost(a: readonly number[], b: readonly number[]): number {
  const top = Math.abs(a.at(-1)! - b.at(-1)!);
  let leap = top;
  for (let k = 0; k < Math.min(a.length, b.length); k++) leap = Math.max(leap, Math.abs(a[k]! - b[k]!));
  return voiceMoves(a, b) + TIE.leap * leap + TIE.top * top;
}

function candidatesOf(chord: Voiced, register: Register | undefined): Candidate[] {
  if (chord.fixed) return [{ pitches: chord.fixed, cost: 0 }];
  const { source, classes } = chord;
  for (const reach of [REACH, 2 * REACH, 4 * REACH]) {
    const low = source[0]! - reach;
    const high = source.at(-1)! + reach;
    const found = arrangements(classes, low, high)
      .filter((pitches) => chord.bass === undefined || pitchClass(pitches[0]! - chord.bass) === 0)
      .map((pitches) => rated(pitches, chord, register))
      .sort((a, b) => a.cost - b.cost);
    if (found.length > 0) return found.slice(0, MOST);
  }
  return [{ pitches: source, cost: 0 }];
}

/** Every way to lay some pitch classes between two pitches, no two voices on one pitch. */
function arrangements(classes: readonly number[], low: number, high: number): number[][] {
  let partial: number[][] = [[]];
  const laid = new Map<number, number>();
  for (const pc of classes) {
    const next: number[][] = [];
    const first = low + pitchClass(pc - low);
    // Voices of one pitch class are told apart by nothing: each lies over the one before.
    const twin = laid.get(pc);
    for (const pitches of partial) {
      const from = twin === undefined ? first : pitches[twin]! + 12;
      for (let pitch = from; pitch <= high; pitch += 12) next.push([...pitches, pitch]);
    }
    laid.set(pc, partial[0]?.length ?? 0);
    partial = next.length > MOST_LAID ? next.slice(0, MOST_LAID) : next;
  }
  return partial.map((pitches) => pitches.sort((a, b) => a - b));
}

const MOST_LAID = 4000;

function rated(pitches: number[], { source }: Voiced, register: Register | undefined): Candidate {
  let cost =
    COST.mean * Math.abs(mean(pitches) - mean(source)) +
    COST.span * Math.max(0, Math.abs(spanOf(pitches) - spanOf(source)) - NEAR_SPAN);
  if (hasSemitone(pitches) && !hasSemitone(source)) cost += COST.newSemitone;
  cost += COST.low * lowIntervals(pitches, source);
  if (register) {
    const [low, high] = [Math.min(register.low, source[0]!), Math.max(register.high, source.at(-1)!)];
    cost += COST.outside * pitches.filter((pitch) => pitch < low || pitch > high).length;
  }
  return { pitches, cost: cost + TIE.fromSource * voiceMoves(pitches, source) };
}

/** An inversion is a little wider or narrower than another. */
const NEAR_SPAN = 3;

function spanOf(pitches: readonly number[]): number {
  return pitches.at(-1)! - pitches[0]!;
}

function mean(pitches: readonly number[]): number {
  return pitches.reduce((sum, pitch) => sum + pitch, 0) / pitches.length;
}

function hasSemitone(pitches: readonly number[]): boolean {
  return pitches.some((pitch, k) => k > 0 && pitch - pitches[k - 1]! === 1);
}

/** Intervals between neighbors that are closer than they may be so low, beyond those the source has itself. */
function lowIntervals(pitches: readonly number[], source: readonly number[]): number {
  return Math.max(0, muddy(pitches) - muddy(source));
}

/** How many neighbors stand closer than they may so low. */
function muddy(pitches: readonly number[]): number {
  let count = 0;
  for (let k = 1; k < pitches.length; k++) {
    const limit = LOW_LIMITS.find(([below]) => pitches[k - 1]! < below);
    if (limit && pitches[k]! - pitches[k - 1]! < limit[1]) count++;
  }
  return count;
}
