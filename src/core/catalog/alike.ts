import { groups, range } from 'd3-array';
import type { Stroke, Stroked } from './strokes.ts';
import { plural } from '../words.ts';

/** What two phrases have in common, the most telling first. */
export const VERDICTS = [
  'same',
  'other key',
  'other tempo',
  'half time',
  'varied',
  'rhythm',
  'changes',
  'within',
] as const;
export type Verdict = (typeof VERDICTS)[number];

/** Verdicts under which two phrases are one thing twice. */
export const TWICE: ReadonlySet<Verdict> = new Set([
  'same',
  'other key',
  'other tempo',
  'half time',
  'varied',
]);

export interface Likeness {
  verdict: Verdict;
  /** 0..1 of what the larger holds, or of what is compared. */
  shared: number;
  /** Semitones from the first to the second. */
  semitones: number;
  text: string;
}

/** What is compared of a phrase. `numerals` is its changes' line (`numeralLine`), empty where it has none. */
export interface Compared extends Stroked {
  numerals: string;
}

/** More of the strokes than this differ, and it is no variation; a varied note is one of a stroke. */
const VARIED = 0.2;

/** Under this nothing is said. */
const FEWEST_SHARED = 0.6;

/** A rhythm is the same while so many of its strokes are; one of so few, or of one distance alone, is everybody's. */
const SAME_RHYTHM = 0.95;
const FEWEST_STROKES = 6;

/** Changes of so few chords are everybody's. */
const FEWEST_CHORDS = 3;

/** Tempos within this are one: files round them. */
const SAME_TEMPO = 0.01;

/** What two phrases have in common, in words; null where there is nothing to say. */
export function likenessOf(a: Compared, b: Compared): Likeness | null {
  if (a.isPitched !== b.isPitched || a.strokes.length === 0 || b.strokes.length === 0) return null;
  return notesAlike(a, b) ?? withinOther(a, b) ?? rhythmAlike(a, b) ?? changesAlike(a, b);
}

function notesAlike(a: Compared, b: Compared): Likeness | null {
  const best = [1, 2, 0.5]
    .map((scale) => ({ scale, match: matched(scaled(a.strokes, scale), b.strokes) }))
    .reduce((x, y) => (y.match.shared > x.match.shared ? y : x));
  const { scale, match } = best;
  if (match.shared < FEWEST_SHARED || differing(match) > VARIED) return null;
  const { semitones, differ, strokes } = match;
  const words = [
    ...(semitones === 0 ? [] : [`in another key (${signed(semitones)} semitones)`]),
    ...tempoWords(a, b, scale),
  ];
  if (differ > 0) {
    const text = [`varied: ${differ} of ${plural(strokes, 'stroke')} differ`, ...words].join(', ');
    return { verdict: 'varied', shared: match.shared, semitones, text };
  }
  const verdict =
    scale !== 1 ? 'half time' : semitones !== 0 ? 'other key' : words.length > 0 ? 'other tempo' : 'same';
  return { verdict, shared: match.shared, semitones, text: ['the same notes', ...words].join(', ') };
}

function tempoWords(a: Compared, b: Compared, scale: number): string[] {
  if (scale === 2) return ['in half time'];
  if (scale === 0.5) return ['in double time'];
  const isSame = Math.abs(a.bpm - b.bpm) <= SAME_TEMPO * a.bpm;
  return isSame ? [] : [`at another tempo (${rounded(a.bpm)} and ${rounded(b.bpm)} BPM)`];
}

function scaled(strokes: readonly Stroke[], scale: number): readonly Stroke[] {
  return scale === 1 ? strokes : strokes.map(({ place, pitches }) => ({ place: place * scale, pitches }));
}

interface Match {
  semitones: number;
  /** Strokes of the larger, and how many of them are not in the other as they are here. */
  strokes: number;
  differ: number;
  /** Notes of the larger that are in the other too, and how many it has. */
  notes: number;
  notesShared: number;
  shared: number;
}

/** A share of strokes, or of single notes where fewer of those differ: one note of a chord is not the whole stroke. */
function differing({ strokes, differ, notes, notesShared }: Match): number {
  // Rounding to whole strokes is not held against them.
  return Math.min((differ - 0.5) / strokes, (notes - notesShared - 0.5) / notes);
}

/** Which strokes of two stand at the same places with the same pitches, the second moved by one interval for all. */
function matched(a: readonly Stroke[], b: readonly Stroke[]): Match {
  const pairs = pairsByPlace(a, b);
  const semitones = commonest(pairs.flatMap(([x, y]) => (y ? [y.pitches[0]! - x.pitches[0]!] : [])));
  let [same, notesShared] = [0, 0];
  for (const [x, y] of pairs) {
    if (!y) continue;
    const there = new Set(y.pitches);
    const common = x.pitches.filter((pitch) => there.has(pitch + semitones)).length;
    notesShared += common;
    if (common === x.pitches.length && common === y.pitches.length) same++;
  }
  const strokes = Math.max(a.length, b.length);
  const notes = Math.max(count(a), count(b));
  const shared = Math.max(same / strokes, notesShared / notes);
  return { semitones, strokes, differ: strokes - same, notes, notesShared, shared };
}

function count(strokes: readonly Stroke[]): number {
  return strokes.reduce((sum, { pitches }) => sum + pitches.length, 0);
}

/** Each stroke of the first with the one of the second at its place, or a twelfth beside it. */
function pairsByPlace(a: readonly Stroke[], b: readonly Stroke[]): [Stroke, Stroke | undefined][] {
  const byPlace = new Map(b.map((stroke) => [stroke.place, stroke]));
  const take = (place: number) => {
    const found = byPlace.get(place);
    if (found) byPlace.delete(place);
    return found;
  };
  const exact = a.map((stroke): [Stroke, Stroke | undefined] => [stroke, take(stroke.place)]);
  return exact.map(([x, y]) => [x, y ?? take(x.place - 1) ?? take(x.place + 1)]);
}

function commonest(values: readonly number[]): number {
  const counts = new Map<number, number>();
  for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1);
  return [...counts].reduce((a, b) => (b[1] > a[1] ? b : a), [0, 0] as [number, number])[0];
}

/** Bars of one that are the whole of the other. */
function withinOther(a: Compared, b: Compared): Likeness | null {
  const [short, long] = a.bars <= b.bars ? [a, b] : [b, a];
  if (short.bars === long.bars || short.bar !== long.bar || short.strokes.length < FEWEST_STROKES)
    return null;
  let best: { at: number; match: Match } | null = null;
  for (let at = 0; at + short.bars <= long.bars; at++) {
    const from = at * long.bar;
    const to = from + short.bars * long.bar;
    const piece = long.strokes
      .filter(({ place }) => place >= from && place < to)
      .map(({ place, pitches }) => ({ place: place - from, pitches }));
    if (piece.length === 0) continue;
    const match = matched(short.strokes, piece);
    if (differing(match) <= VARIED && match.shared > (best?.match.shared ?? 0)) best = { at, match };
  }
  if (!best) return null;
  const { at, match } = best;
  const bars = short.bars === 1 ? `bar ${at + 1}` : `bars ${at + 1} to ${at + short.bars}`;
  const which = short === a ? 'the first is' : 'the second is';
  const way = short === a ? match.semitones : -match.semitones;
  return {
    verdict: 'within',
    shared: match.shared,
    semitones: way,
    text: `${which} ${bars} of the other${match.differ > 0 ? ', varied' : ''}`,
  };
}

/** The same places, whatever stands on them. Of drums, places are half of what they are: they are not said to share a rhythm alone. */
function rhythmAlike(a: Compared, b: Compared): Likeness | null {
  if (!a.isPitched || Math.min(a.strokes.length, b.strokes.length) < FEWEST_STROKES || isEven(a)) return null;
  const pairs = pairsByPlace(a.strokes, b.strokes).filter(([, y]) => y).length;
  const shared = pairs / Math.max(a.strokes.length, b.strokes.length);
  if (shared < SAME_RHYTHM) return null;
  return { verdict: 'rhythm', shared, semitones: 0, text: 'the same rhythm with other pitches' };
}

/** One distance throughout: steady eighths are everybody's. */
function isEven({ strokes }: Stroked): boolean {
  return new Set(strokes.slice(1).map(({ place }, k) => place - strokes[k]!.place)).size <= 1;
}

function changesAlike(a: Compared, b: Compared): Likeness | null {
  const chords = a.numerals.trim().split(/\s+/);
  if (a.numerals === '' || a.numerals !== b.numerals || chords.length < FEWEST_CHORDS) return null;
  return { verdict: 'changes', shared: 1, semitones: 0, text: `the same changes (${chords.join(' ')})` };
}

function signed(semitones: number): string {
  return semitones > 0 ? `+${semitones}` : String(semitones);
}

function rounded(bpm: number): number {
  return Math.round(bpm * 10) / 10;
}

/** Groups of what is linked, of two at least, in the order of their first. */
export function groupsOf(count: number, links: readonly (readonly [number, number])[]): number[][] {
  const parent = Array.from({ length: count }, (_, k) => k);
  const root = (k: number): number => {
    let at = k;
    while (parent[at] !== at) at = parent[at] = parent[parent[at]!]!;
    return at;
  };
  for (const [a, b] of links) parent[Math.max(root(a), root(b))] = Math.min(root(a), root(b));
  return groups(range(count), root).flatMap(([, linked]) => (linked.length > 1 ? [linked] : []));
}
