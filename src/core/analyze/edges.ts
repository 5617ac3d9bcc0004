import { group } from 'd3-array';
import type { Take } from '../capture/take.ts';
import {
  barStart,
  barTicks,
  beatTicks,
  EARLY,
  meantBar,
  meterAt,
  ticksToSeconds,
} from '../music/timeline.ts';
import { UNPITCHED } from '../split/roles.ts';
import { playingParts, type PlayingPart, type Split } from '../split/split.ts';
import { BEAT_WEIGHTS, barReadings, scoreOf, type BeatWeights } from './beats.ts';
import type { ChordFinding } from './chords.ts';
import { findChordLoops, type LoopFinding } from './loops.ts';
import { onsetsOf, type Onset } from './onsets.ts';

/** How the music of a take begins and ends on its bars. */
export interface Edges {
  /** Silence before the first note, in ticks; where a pickup or a count-in begins, that of whole bars before it. */
  leadingTicks: number;
  /** Bars in which somebody counts in: strokes on the beats and no tone. */
  countInBars: number;
  /** Length of what leads into the first strong bar, in ticks. */
  pickupTicks: number;
  /** That bar, from 1; 0 where nothing leads into it. */
  pickupInto: number;
  /** How far everything stands after where its own bars would have it, in ticks: pulled back by so much it fits. */
  lateTicks: number;
  /** Bars after the last of the form that comes back. */
  tailBars: number;
}

/** A count-in has a stroke a beat, at most two, on a few pitches, for so many bars at most. */
const MOST_COUNTED = 2;

/** So many bars at the most are a tail. */
const LONGEST_TAIL = 4;

const NO_PICKUP = { pickupTicks: 0, pickupInto: 0 };

/** How much better another place for the bar line must be. */
const CLEARLY = 0.12;

/** Tells leading silence, count-in, pickup, a late start, and bars after the form apart. */
export function findEdges(
  take: Take,
  split: Split,
  loops: readonly LoopFinding[],
  chords: readonly ChordFinding[],
): Edges {
  const notes = playingParts(split).flatMap((part) => part.notes);
  if (notes.length === 0) return { ...findBeginning(take, split), tailBars: 0 };
  return { ...findBeginning(take, split), tailBars: tailOf(take, notes, loops, chords) };
}

/** How a take begins; nothing of it needs to know what comes back. */
export function findBeginning(take: Take, split: Split): Omit<Edges, 'tailBars'> {
  const playing = playingParts(split);
  const notes = playing.flatMap((part) => part.notes);
  if (notes.length === 0) return { leadingTicks: 0, countInBars: 0, ...NO_PICKUP, lateTicks: 0 };
  const counted = countIn(take, playing);
  // What sounds while somebody counts belongs to the music, the counting does not.
  const music = counted
    ? playing.flatMap(({ part, notes: own }) =>
        UNPITCHED.has(part.role)
          ? own.filter((i) => take.notes.tick[i]! >= counted.endTick - EARLY * take.timing.timeline.ppq)
          : own,
      )
    : notes;
  const beginning = beginningOf(take, split, music, counted?.endTick ?? 0);
  return {
    ...beginning,
    leadingTicks: counted ? counted.startTick : beginning.leadingTicks,
    countInBars: counted?.bars ?? 0,
  };
}

/** Beats that a take's pickup reaches before the bar it leads into, rounded up; 0 where it has none. */
export function pickupBeats(
  { timing: { timeline } }: Take,
  { pickupTicks, pickupInto }: Pick<Edges, 'pickupTicks' | 'pickupInto'>,
): number {
  if (pickupInto === 0) return 0;
  const beat = beatTicks(timeline.ppq, meterAt(timeline, barStart(timeline, pickupInto - 1)));
  return Math.ceil(pickupTicks / beat - EARLY);
}

/** Whole bars of strokes on the beats before anything else plays; null where there are none. */
function countIn(
  take: Take,
  playing: readonly PlayingPart[],
): { startTick: number; endTick: number; bars: number } | null {
  const { timeline } = take.timing;
  const { tick, pitch } = take.notes;
  const tones = playing.filter(({ part }) => !UNPITCHED.has(part.role)).flatMap(({ notes }) => notes);
  const strokes = playing.filter(({ part }) => UNPITCHED.has(part.role)).flatMap(({ notes }) => notes);
  if (strokes.length === 0) return null;
  const early = EARLY * timeline.ppq;
  const firstStroke = least(strokes.map((i) => tick[i]!));
  const startBar = meantBar(timeline, firstStroke);
  let bars = 0;
  for (; bars < MOST_COUNTED; bars++) {
    const [from, to] = [
      barStart(timeline, startBar + bars) - early,
      barStart(timeline, startBar + bars + 1) - early,
    ];
    const meter = meterAt(timeline, from + early);
    const beat = beatTicks(timeline.ppq, meter);
    const own = strokes.filter((i) => tick[i]! >= from && tick[i]! < to);
    const onBeats = own.filter((i) => {
      const off = (tick[i]! - from - early) % beat;
      return Math.min(Math.abs(off), Math.abs(beat - off)) <= early;
    });
    const places = new Set(onBeats.map((i) => Math.round((tick[i]! - from - early) / beat)));
    // The last bar of a count-in may carry the pickup, which has tones in its second half.
    const tonesBefore = tones.filter((i) => tick[i]! < from + early + (to - from) * 0.45);
    const isCounted =
      own.length === onBeats.length &&
      own.length <= meter.numerator + 1 &&
      places.has(0) &&
      places.size >= Math.min(2, meter.numerator) &&
      new Set(own.map((i) => pitch[i]!)).size <= 2 &&
      tonesBefore.length === 0;
    if (!isCounted) break;
  }
  const endTick = barStart(timeline, startBar + bars);
  const later = [...tones, ...strokes].filter((i) => tick[i]! >= endTick - early);
  // A click that goes on, or strokes alone, count nothing in.
  const goesOn =
    strokes.length > 0 && tones.length === 0
      ? new Set(later.map((i) => pitch[i]!)).size > 2
      : later.length > 0;
  return bars > 0 && goesOn ? { startTick: barStart(timeline, startBar), endTick, bars } : null;
}

function beginningOf(
  take: Take,
  split: Split,
  music: readonly number[],
  fromTick: number,
): Pick<Edges, 'leadingTicks' | 'pickupTicks' | 'pickupInto' | 'lateTicks'> {
  const { timeline } = take.timing;
  const { tick } = take.notes;
  const first = least(music.map((i) => tick[i]!));
  const early = EARLY * timeline.ppq;
  const bar = meantBar(timeline, first);
  const start = barStart(timeline, bar);
  const line = barStart(timeline, bar + 1);
  const late = lateness(take, split, fromTick);
  if (late > 0) return { leadingTicks: first, ...NO_PICKUP, lateTicks: late };
  const isIn = first - start > (line - start) * 0.2;
  const before = music.filter((i) => tick[i]! < line - early).length;
  const onLine = music.filter((i) => Math.abs(tick[i]! - line) <= early).length;
  const barAfter = music.filter(
    (i) => tick[i]! >= line - early && tick[i]! < line + (line - start) - early,
  ).length;
  if (isIn && onLine > 0 && before <= Math.max(4, barAfter / 2))
    return {
      leadingTicks: Math.max(0, start - fromTick),
      pickupTicks: line - first,
      pickupInto: bar + 1,
      lateTicks: 0,
    };
  return { leadingTicks: first - fromTick <= early ? 0 : first - fromTick, ...NO_PICKUP, lateTicks: 0 };
}

/**
 * How many ticks after its bar lines everything stands: of all places in the bar by eighths, the one on which bass,
 * kick, long notes and changes of harmony say that bars begin; 0 where that is the bar line, or nearly.
 */
function lateness(take: Take, split: Split, fromTick: number): number {
  const { timeline } = take.timing;
  const onsets = onsetsOf(take, split).filter(({ tick }) => tick >= fromTick - EARLY * timeline.ppq);
  const [first] = onsets;
  if (!first || onsets.length < 8) return 0;
  const meter = meterAt(timeline, fromTick);
  const bar = barTicks(timeline.ppq, meter);
  const lag = (first.tick - fromTick) % bar;
  if (lag < timeline.ppq * 0.4) return 0;
  const beat = beatTicks(timeline.ppq, meter);
  // What could be a pickup must not speak for bars that begin with it.
  const line = first.tick - lag + bar;
  const after = onsets.filter(({ tick }) => tick >= line - EARLY * timeline.ppq);
  if (after.length < 8) return 0;
  const place = { take, beat, beatsPerBar: meter.numerator };
  const here = placeScore(after, { ...place, start: line, firstDownbeat: 0 });
  const there = placeScore(after, {
    ...place,
    start: line + (lag % beat),
    firstDownbeat: Math.floor(lag / beat),
  });
  return there > here + CLEARLY ? first.tick - fromTick : 0;
}

/** Of what tells beats, that which tells where bars begin: tempo and grid are the same wherever they do. */
const PLACE_WEIGHTS: BeatWeights = { ...BEAT_WEIGHTS, between: 0, grid: 0, tempo: 0, uneven: 0 };

/** A grid of beats from a tick on, and which of the first of them begins a bar. */
interface Place {
  take: Take;
  start: number;
  beat: number;
  beatsPerBar: number;
  firstDownbeat: number;
}

/** What speaks for bars that begin there. */
function placeScore(
  onsets: readonly Onset[],
  { take, start, beat, beatsPerBar, firstDownbeat }: Place,
): number {
  const { timeline } = take.timing;
  const last = onsets.at(-1)!.tick;
  const beats: number[] = [];
  for (let tick = start; tick <= last + beat && beats.length < 256; tick += beat)
    beats.push(ticksToSeconds(timeline, tick));
  if (beats.length < 4) return 0;
  const reading = barReadings(beats, onsets, [beatsPerBar]).find(
    (one) => one.firstDownbeat === firstDownbeat,
  );
  return reading ? scoreOf(reading, PLACE_WEIGHTS) : 0;
}

/** Bars in which something begins after the last of the form: of the changes where they come back, else of most parts. */
function tailOf(
  take: Take,
  notes: readonly number[],
  loops: readonly LoopFinding[],
  chords: readonly ChordFinding[],
): number {
  const { timeline } = take.timing;
  const last = notes.reduce((most, i) => Math.max(most, take.notes.tick[i]!), 0);
  const lastBar = meantBar(timeline, last);
  const [changes] = findChordLoops(chords, lastBar);
  const form = changes && changes.bars > 1 ? changes : mostCommon(loops);
  if (!form) return 0;
  const tail = Math.max(0, lastBar - lastBarOf(form));
  // More would be a part of the piece; and what comes back little is no form.
  return tail <= LONGEST_TAIL && lastBarOf(form) - form.startBar + 1 >= (2 / 3) * (lastBar - tail) ? tail : 0;
}

function lastBarOf({ startBar, bars, repeats }: LoopFinding): number {
  return startBar + bars * repeats - 1;
}

/** The loop whose end at least half of the parts with loops have. */
function mostCommon(loops: readonly LoopFinding[]): LoopFinding | null {
  const [most] = [...group(loops, lastBarOf).values()].sort(
    (a, b) => b.length - a.length || lastBarOf(b[0]!) - lastBarOf(a[0]!),
  );
  return most && most.length * 2 >= loops.length ? most[0]! : null;
}

function least(values: readonly number[]): number {
  return values.reduce((a, b) => Math.min(a, b), Infinity);
}
