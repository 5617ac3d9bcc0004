import { kitPiece, type KitPiece } from '../midi/gm.ts';
import { isPitched, type Clip } from '../phrase/clip.ts';
import { strokesIn, type Stroke } from './strokes.ts';

/** Struck softer than this, a drum's hit is a ghost (common practice). */
const GHOST = 40;

/**
 * The strokes of a phrase in the order in which they leave when it grows calmer, the least important first; those that never
 * leave are not in it. `changes` are the ticks at which its chords change.
 */
export function leavingOrder(clip: Clip, changes: readonly number[]): Stroke[] {
  const strokes = strokesIn(clip);
  const worth = isPitched(clip) ? worthOfStrokes(strokes, changes) : worthOfHits(strokes, clip);
  const order = strokes.map((stroke, k) => ({ stroke, worth: worth[k]! }));
  return order
    .filter((one) => one.worth < Infinity)
    .sort((a, b) => a.worth - b.worth || b.stroke.tick - a.stroke.tick)
    .map(({ stroke }) => stroke);
}

/** How hard a stroke is struck against the hardest, 0..1. */
function accents(strokes: readonly Stroke[]): number[] {
  const loudest = strokes.map(({ notes }) => Math.max(...notes.map(({ velocity }) => velocity)));
  const [low, high] = [Math.min(...loudest), Math.max(...loudest)];
  return loudest.map((velocity) => (high > low ? (velocity - low) / (high - low) : 1));
}

/**
 * How important each stroke is: its place in the bar, its accent, the first under a chord, first and last, highest and lowest of
 * a line (from memory). Never to leave: the first of bar one, and the only one under a chord.
 */
function worthOfStrokes(strokes: readonly Stroke[], changes: readonly number[]): number[] {
  const accent = accents(strokes);
  const under = strokes.map(({ tick }) => changes.findLastIndex((change) => change <= tick));
  const firsts = new Map<number, number>();
  const counts = new Map<number, number>();
  under.forEach((chord, k) => {
    if (!firsts.has(chord)) firsts.set(chord, k);
    counts.set(chord, (counts.get(chord) ?? 0) + 1);
  });
  const isLine = strokes.every(({ notes }) => notes.length === 1);
  const pitches = strokes.map(({ notes }) => notes[0]!.pitch);
  const edges = new Set([pitches.indexOf(Math.max(...pitches)), pitches.indexOf(Math.min(...pitches))]);
  const firstOfBarOne = strokes.findIndex(({ bar }) => bar >= 0);
  return strokes.map((stroke, k) => {
    const alone = changes.length > 0 && counts.get(under[k]!) === 1;
    if (k === firstOfBarOne || alone) return Infinity;
    const first = changes.length > 0 && firsts.get(under[k]!) === k;
    const end = k === 0 || k === strokes.length - 1;
    return stroke.weight + 0.5 * accent[k]! + (first ? 1 : 0) + (isLine && (end || edges.has(k)) ? 1 : 0);
  });
}

/** Pieces that stay: what marks the form and what a fill is made of. */
const STAYS: ReadonlySet<KitPiece> = new Set<KitPiece>(['crash', 'toms']);

const HATS: ReadonlySet<KitPiece> = new Set<KitPiece>(['closed hat', 'pedal hat', 'open hat', 'ride']);

/** Ghosts leave first, then second hits of a pair, off sixteenths, every second hat; kick on one, backbeat, crash and fills stay. */
function worthOfHits(strokes: readonly Stroke[], clip: Clip): number[] {
  const accent = accents(strokes);
  const pair = clip.timeline.ppq / 4 + clip.timeline.ppq / 12;
  const lastAt = new Map<number, number>();
  return strokes.map((stroke, k) => {
    const [{ pitch, velocity }] = stroke.notes as [Stroke['notes'][number]];
    const piece = kitPiece(pitch);
    const isSecond = !HATS.has(piece) && stroke.tick - (lastAt.get(pitch) ?? -Infinity) <= pair;
    lastAt.set(pitch, stroke.tick);
    const onBeat = stroke.beat % 1 === 0;
    if (STAYS.has(piece) || (piece === 'kick' && stroke.beat === 0)) return Infinity;
    if (piece === 'snare' && velocity >= GHOST && onBeat && stroke.beat % 2 === 1) return Infinity;
    const fine = 0.1 * (stroke.weight + accent[k]!);
    if (velocity < GHOST) return fine;
    if (isSecond) return 10 + fine;
    if ((stroke.beat * 2) % 1 !== 0) return 20 + fine;
    if (HATS.has(piece) && !onBeat) return 30 + fine;
    if (HATS.has(piece)) return 40 + fine;
    return 50 + fine;
  });
}
