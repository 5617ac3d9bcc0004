import type { Take } from '../capture/take.ts';
import { chordTones } from '../music/chord.ts';
import { barStart, barsUntil, positionAt } from '../music/timeline.ts';
import type { ChordFinding } from './chords.ts';
import { MOST_BARS } from './chroma.ts';
import { lowerQuartile, mean, upperMedian } from './measures.ts';
import { maximalSubsequences } from './subsequences.ts';

/** A stretch of bars that comes again. */
export interface LoopFinding {
  /** From 1. */
  startBar: number;
  bars: number;
  /** How many times it is played, the first time counted. */
  repeats: number;
  /** 0..1: how much the repeats are alike. */
  likeness: number;
  /** Semitones by which each repeat lies over the first, where it moves as a block; null where it stays. */
  shifts: number[] | null;
}

/** The longest period that is looked for, in bars. */
const LONGEST = 64;

/** Notes of a bar on a grid of sixteenths, in quarter notes. */
const GRID = 1 / 4;

/** A note this much ahead of its bar belongs to the next, in quarter notes. */
const EARLY = 1 / 8;

/**
 * How alike a bar must be to the one a period later to speak for a repeat rather than against it, and how alike all of a
 * stretch must be to be claimed: what comes back to the note is told first, what is varied explains the bars that are left.
 */
const EXACTLY = { alike: 0.85, claimed: 0.9 };
const VARIED = { alike: 0.6, claimed: 0.75 };

/** What speaks against counts so much: a stretch ends where the likeness breaks. */
const AGAINST = 1.5;

/** A loop is this much more alike than bars that are no repeats of each other, or is no more than the style. */
const OVER_OTHERS = 0.18;

/** From here on repeats are exact enough to need no bars to compare with. */
const SURE = 0.9;

/** The shortest period within this of the best explains a stretch. */
const ALMOST = 0.09;

/** What is varied a little is so much less alike than what comes back to the note. */
const A_LITTLE = 0.2;

/** At its ends a stretch is trimmed of what is so much less alike. */
const EDGE = 0.1;

/** So many bars must be newly explained, where they are exact. */
const WORTH = 1.5;

/** Moved as a block asks for more: any broken chord is like any other somewhere. */
const ALIKE_MOVED = 0.92;

/** A longer period is the loop where a bar of it differs by so much from what the shorter one says, each time. */
const SYSTEMATIC = 0.05;

/** By so many standard errors a longer period must be more alike, where no one bar tells. */
const SURE_OF_GAIN = 3;

/** And by so much. */
const LEAST_GAIN = 0.03;

/** How much pitches count against onsets. */
const PITCH_SHARE = 0.8;

/** What is longer, in bars, is a form rather than a loop to play with. */
const HANDY = 16;

/** Loops of one part at the most. */
const MOST_LOOPS = 8;

/** What a bar plays: places of a grid, and pitches on them. */
interface Bar {
  /** Ascending. */
  onsets: Int32Array;
  notes: Int32Array;
}

/**
 * The loops of a part, what explains most first; empty where nothing repeats. For every period up to 64 bars, the stretches are
 * sought over which each bar is like the one a period later, judged by pitches more than by onsets (all maximal scoring
 * subsequences: Ruzzo & Tompa 1999); silence votes for nothing. Of all stretches of all periods those are told that newly
 * explain most bars: the shorter period explains more of the same bars, unless a longer one tells what is different each time. Where
 * nothing stays in place, blocks that move by a step as a whole are sought. What comes after `lastBar`, an ending, is not looked at.
 */
export function findLoops(take: Take, indices: readonly number[], lastBar = Infinity): LoopFinding[] {
  return loopsAmong(barsOf(take, indices).slice(0, lastBar));
}

/** The loops of the changes: bars are what chords begin or are held in them, by beat. */
export function findChordLoops(chords: readonly ChordFinding[], bars: number): LoopFinding[] {
  const sounding: number[][] = Array.from({ length: Math.min(MOST_BARS, bars) }, () => []);
  let at = 0;
  for (let bar = 1; bar <= sounding.length; bar++) {
    while (
      at + 1 < chords.length &&
      (chords[at + 1]!.bar < bar || (chords[at + 1]!.bar === bar && chords[at + 1]!.beat === 1))
    )
      at++;
    const own = [chords[at], ...chords.filter((chord) => chord.bar === bar && chord.beat > 1)];
    for (const finding of own) {
      if (!finding?.chord || finding.bar > bar) continue;
      const beat = finding.bar === bar ? finding.beat - 1 : 0;
      sounding[bar - 1]!.push(...chordTones(finding.chord).map((tone) => beat * 128 + tone));
    }
  }
  return loopsAmong(sounding.map(barOf));
}

function loopsAmong(bars: readonly Bar[]): LoopFinding[] {
  const first = bars.findIndex(({ notes }) => notes.length > 0);
  if (first < 0) return [];
  const playing = bars.slice(0, bars.findLastIndex(({ notes }) => notes.length > 0) + 1);
  const likeness = likenessTable(playing);
  const levels = [EXACTLY, VARIED].map((level) => ({ level, runs: allRuns(playing, likeness, level) }));
  const runs = levels.flatMap((level) => level.runs).sort((a, b) => a.period - b.period);
  const told = inOrder(explaining(playing, levels, likeness).map((run) => loopOf(run, runs, likeness)));
  const best = Math.max(0, ...told.map((loop) => loop.likeness));
  const [moved] = movedBlocks(playing, first);
  if (moved && moved.likeness > best + 0.1) return [moved];
  return told.map(rounded);
}

/** A stretch of bars (from 0) over which a period comes back: all `bars` of them, the first time counted. */
interface Run {
  start: number;
  bars: number;
  period: number;
  likeness: number;
}

type Level = typeof VARIED;

/** The stretches that each period repeats over, at least once whole. */
function allRuns(bars: readonly Bar[], likeness: Likeness, level: Level): Run[] {
  const sounds = bars.map(({ notes }) => notes.length > 0);
  const runs: Run[] = [];
  for (let period = 1; period <= Math.min(LONGEST, bars.length >> 1); period++) {
    const values = Array.from({ length: bars.length - period }, (_, k) =>
      sounds[k] || sounds[k + period] ? likeness(k, k + period) : null,
    );
    const scores = values.map((value) => {
      const over = value === null ? 0 : value - level.alike;
      return over < 0 ? over * AGAINST : over;
    });
    for (const [from, to] of maximalSubsequences(scores)) {
      const run = claimed({ from, to, period }, values, bars, likeness, level);
      if (run) runs.push(run);
    }
  }
  return runs;
}

/** A stretch that is a loop: trimmed to what sounds, long and alike enough, and more alike than the style makes it. */
function claimed(
  { from, to, period }: { from: number; to: number; period: number },
  values: readonly (number | null)[],
  bars: readonly Bar[],
  likeness: Likeness,
  level: Level,
): Run | undefined {
  const sounds = bars.map(({ notes }) => notes.length > 0);
  let [start, end] = withoutEdges(from, to, period, values, likeness);
  while (start < end && !sounds[start]) start++;
  while (end > start && !sounds[end - 1]) end--;
  // The last bars of the last time may be a fill.
  const fill = period >> 2;
  if (end - start < 2 * period - fill) return undefined;
  const last = start + Math.floor((end - start + fill) / period) * period;
  end = Math.max(end, Math.min(last, sounds.length));
  if (end - start < 2 * period) return undefined;
  const inPeriod = sounds.slice(start, start + period).filter(Boolean).length;
  if (2 * inPeriod < period) return undefined;
  const alike = shareThatComesAgain(bars.slice(start, end), values.slice(start, end - period), period);
  if (alike < level.claimed) return undefined;
  if (alike < SURE && alike < othersOf(start, end, period, likeness) + OVER_OTHERS) return undefined;
  return { start, bars: end - start, period, likeness: alike };
}

/** How much of what is played comes again a period later: bars count by their notes. */
function shareThatComesAgain(
  bars: readonly Bar[],
  values: readonly (number | null)[],
  period: number,
): number {
  let [both, all] = [0, 0];
  values.forEach((value, k) => {
    const notes = bars[k]!.notes.length + bars[k + period]!.notes.length;
    both += (value ?? 0) * notes;
    all += notes;
  });
  return all === 0 ? 0 : both / all;
}

/**
 * A stretch without bars at its ends that are like none of their repeats: an intro, an ending. One that is varied once is no
 * intro. As bars, [start, end).
 */
function withoutEdges(
  from: number,
  to: number,
  period: number,
  values: readonly (number | null)[],
  likeness: Likeness,
): [start: number, end: number] {
  const own = values.slice(from, to).filter((value) => value !== null);
  const usual = upperMedian(own);
  const spread = upperMedian(own.map((value) => Math.abs(value - usual)));
  const least = usual - Math.max(EDGE, 2 * spread);
  let [start, end] = [from, to + period];
  /** Whether a bar is unlike all those that lie some periods after it (1) or before it (-1) in the stretch. */
  const isOther = (bar: number, way: 1 | -1) => {
    for (let other = bar + way * period; other >= start && other < end; other += way * period)
      if (likeness(Math.min(bar, other), Math.max(bar, other)) >= least) return false;
    return true;
  };
  const isLikeOne = (bar: number) => {
    for (let other = bar + period; other < end; other += period)
      if (likeness(bar, other) >= Math.max(usual - A_LITTLE, VARIED.alike)) return true;
    return false;
  };
  while (end - start > period && values[start] !== null && isOther(start, 1)) start++;
  while (end - start > period && values[end - 1 - period] !== null && isOther(end - 1, -1)) end--;
  // One that is varied more than others is no reason to begin a bar late.
  while (start > 0 && isLikeOne(start - 1)) start--;
  return [start, end];
}

/**
 * Of all stretches, those that newly explain most, one after the other: a bar is explained where it is like one that came a
 * period before.
 */
function explaining(
  bars: readonly Bar[],
  levels: readonly { level: Level; runs: readonly Run[] }[],
  likeness: Likeness,
): Run[] {
  const open = bars.map(({ notes }) => notes.length > 0);
  const told: Run[] = [];
  for (const { level, runs } of levels) {
    const worth = ({ start, bars: length, period }: Run) => {
      let sum = 0;
      for (let bar = start + period; bar < start + length; bar++)
        if (open[bar]) sum += likeness(bar - period, bar) - level.alike;
      return sum / (1 - level.alike);
    };
    while (told.length < MOST_LOOPS) {
      const [best] = runs
        .map((run) => ({ run, worth: worth(run) }))
        .sort((a, b) => b.worth - a.worth || a.run.period - b.run.period);
      if (!best || best.worth < least(best.run, bars.length)) break;
      told.push(best.run);
      for (let bar = best.run.start + best.run.period; bar < best.run.start + best.run.bars; bar++)
        open[bar] = false;
    }
  }
  return told;
}

/** What is all of a short part may explain little. */
function least(run: Run, bars: number): number {
  return run.bars >= bars - 1 ? 0.25 : WORTH;
}

/** A stretch as a loop; of a longer period where that says more over much the same bars. */
function loopOf(run: Run, runs: readonly Run[], likeness: Likeness): LoopFinding {
  const [first, ...longer] = runs.filter((other) => isOver(run, other) && isNearlyBest(other, runs));
  const told = longer.reduce(
    (now, other) => (saysMore(loopFinding(other), loopFinding(now), likeness) ? other : now),
    first!,
  );
  return loopFinding(withVariations(told, runs));
}

/** Whether two stretches are much the same bars. */
function isOver(one: Run, other: Run): boolean {
  const shared = Math.min(one.start + one.bars, other.start + other.bars) - Math.max(one.start, other.start);
  return shared >= 0.8 * Math.max(one.bars, other.bars);
}

/** Whether no other period explains the same bars much better. */
function isNearlyBest(run: Run, runs: readonly Run[]): boolean {
  return !runs.some((other) => other.likeness > run.likeness + ALMOST && isOver(run, other));
}

/** The same loop over all bars in which it is varied a little. */
function withVariations(run: Run, runs: readonly Run[]): Run {
  const wider = runs
    .filter(
      ({ start, bars, period, likeness }) =>
        period === run.period &&
        start <= run.start &&
        start + bars >= run.start + run.bars &&
        likeness >= run.likeness - A_LITTLE,
    )
    .filter((other) => isNearlyBest(other, runs));
  return wider.reduce((a, b) => (b.bars > a.bars ? b : a), run);
}

/** Each once, the best first. */
function inOrder(loops: readonly LoopFinding[]): LoopFinding[] {
  return loops
    .filter((loop, at) => loops.findIndex((other) => isSameLoop(loop, other)) === at)
    .sort(bestLoopFirst);
}

/** Order of loops: handy ones before forms, of them those that explain more bars. */
export function bestLoopFirst(a: LoopFinding, b: LoopFinding): number {
  const explains = ({ bars, repeats, likeness }: LoopFinding) => bars * (repeats - 1) * likeness;
  const isLong = ({ bars }: LoopFinding) => (bars > HANDY ? 1 : 0);
  return isLong(a) - isLong(b) || explains(b) - explains(a);
}

function isSameLoop(one: LoopFinding, other: LoopFinding): boolean {
  return one.startBar === other.startBar && one.bars === other.bars;
}

function loopFinding({ start, bars, period, likeness }: Run): LoopFinding {
  return {
    startBar: start + 1,
    bars: period,
    repeats: Math.floor(bars / period),
    likeness,
    shifts: null,
  };
}

function rounded(loop: LoopFinding): LoopFinding {
  return { ...loop, likeness: Math.round(loop.likeness * 100) / 100 };
}

function barsOf(take: Take, indices: readonly number[]): Bar[] {
  const { timeline } = take.timing;
  const bars: number[][] = [];
  const early = EARLY * timeline.ppq;
  for (const i of indices) {
    const { bar } = positionAt(timeline, take.notes.tick[i]! + early);
    if (bar > MOST_BARS) continue;
    while (bars.length < bar) bars.push([]);
    const step = Math.round((take.notes.tick[i]! - barStart(timeline, bar)) / (timeline.ppq * GRID));
    bars[bar - 1]!.push(step * 128 + take.notes.pitch[i]!);
  }
  const end = Math.min(MOST_BARS, barsUntil(timeline, take.timing.ticks));
  while (bars.length < end) bars.push([]);
  return bars.map(barOf);
}

/** A bar of notes as places times 128 and pitches. */
function barOf(notes: readonly number[]): Bar {
  return {
    onsets: ascending(notes.map((note) => Math.floor(note / 128))),
    notes: ascending(notes),
  };
}

function ascending(values: readonly number[]): Int32Array {
  return Int32Array.from(new Set(values)).sort();
}

/** How alike two bars are, asked once for each pair. */
type Likeness = (one: number, other: number) => number;

function likenessTable(bars: readonly Bar[]): Likeness {
  const known = new Float32Array(bars.length * bars.length).fill(-1);
  return (one, other) => {
    const at = one * bars.length + other;
    if (known[at]! < 0) known[at] = barLikeness(bars[one]!, bars[other]!);
    return known[at]!;
  };
}

/** 0..1; two bars without notes tell nothing for or against. */
function barLikeness(one: Bar, other: Bar, shift = 0): number {
  if (one.notes.length === 0 && other.notes.length === 0) return 0.5;
  return (
    PITCH_SHARE * shared(one.notes, other.notes, shift) + (1 - PITCH_SHARE) * shared(one.onsets, other.onsets)
  );
}

/** Dice's coefficient: twice what both have over what each has. */
function shared(one: Int32Array, other: Int32Array, shift = 0): number {
  let [both, i, j] = [0, 0, 0];
  while (i < one.length && j < other.length) {
    const difference = one[i]! + shift - other[j]!;
    if (difference === 0) both++;
    if (difference <= 0) i++;
    if (difference >= 0) j++;
  }
  return one.length + other.length === 0 ? 1 : (2 * both) / (one.length + other.length);
}

/** How alike bars of a stretch are that a period does not call the same; 0 where it calls all the same. */
function othersOf(start: number, end: number, period: number, likeness: Likeness): number {
  const values: number[] = [];
  const most = Math.min(end, start + 32);
  for (let one = start; one < most; one++)
    for (let other = one + 1; other < most; other++)
      if ((other - one) % period !== 0) values.push(likeness(one, other));
  return values.length === 0 ? 0 : mean(values);
}

/**
 * Whether a longer period explains what the shorter takes for variation: one of its bars is unlike what the shorter
 * says, each time, and alike each time it comes.
 */
function saysMore(longer: LoopFinding, shorter: LoopFinding, likeness: Likeness): boolean {
  if (longer === shorter || longer.bars % shorter.bars !== 0 || longer.repeats < 2) return false;
  if (longer.likeness <= shorter.likeness) return false;
  const start = longer.startBar - 1;
  const pairs = (period: number) =>
    Array.from({ length: longer.bars * longer.repeats - period }, (_, k) =>
      likeness(start + k, start + k + period),
    );
  // It comes back to the note, and the shorter does not.
  const exact = pairs(longer.bars);
  if (exact.length >= 4 && lowerQuartile(exact) > 0.995 && lowerQuartile(pairs(shorter.bars)) < 0.985)
    return true;
  for (let place = 0; place < longer.bars; place++) {
    const times = Array.from({ length: longer.repeats }, (_, k) => start + place + k * longer.bars);
    const before = times.filter((at) => at - shorter.bars >= start);
    const alike = mean(times.slice(1).map((at, k) => likeness(times[k]!, at)));
    const asBefore = before.map((at) => likeness(at - shorter.bars, at));
    if (
      before.length >= times.length - 1 &&
      alike - Math.max(...asBefore) > SYSTEMATIC + 2 * (1 - longer.likeness)
    )
      return true;
  }
  // Or all of it is a little more alike than chance would have it: bars of one place against those the shorter takes for them.
  const gains = gainsOf(start, longer, shorter, likeness);
  const gain = mean(gains);
  const error = Math.sqrt(mean(gains.map((value) => (value - gain) ** 2)) / Math.max(1, gains.length - 1));
  return gains.length >= 4 && gain > LEAST_GAIN && gain > SURE_OF_GAIN * error;
}

/** By bar, how much more like its own repeats it is than like the other bars that a shorter period calls repeats of it. */
function gainsOf(start: number, longer: LoopFinding, shorter: LoopFinding, likeness: Likeness): number[] {
  const bars = longer.bars * longer.repeats;
  return Array.from({ length: bars }, (_, k) => {
    const own: number[] = [];
    const others: number[] = [];
    const near = Math.min(MOST_REPEATS * longer.bars, FARTHEST);
    for (let other = Math.max(0, k - near); other <= Math.min(bars - 1, k + near); other++) {
      if (other === k || (other - k) % shorter.bars !== 0) continue;
      const value = likeness(start + Math.min(k, other), start + Math.max(k, other));
      ((other - k) % longer.bars === 0 ? own : others).push(value);
    }
    return mean(own) - mean(others);
  });
}

/** A bar is held against so many of its repeats. */
const MOST_REPEATS = 3;

/** Bars farther from each other are not held against each other. */
const FARTHEST = 48;

/** Periods of blocks that move, in bars. */
const MOVED_PERIODS = [2, 3, 4, 6, 8, 12, 16];

/** The loop whose repeats each lie some semitones over the first; the shortest period that is alike enough. */
function movedBlocks(bars: readonly Bar[], first: number): LoopFinding[] {
  for (const period of MOVED_PERIODS) {
    const repeats = Math.floor((bars.length - first) / period);
    // Moved once may be chance.
    if (repeats < 3) continue;
    const block = bars.slice(first, first + period);
    const found = Array.from({ length: repeats - 1 }, (_, k) => {
      const later = bars.slice(first + (k + 1) * period, first + (k + 2) * period);
      return SHIFTS.map((shift) => ({
        shift,
        value: mean(block.map((bar, at) => barLikeness(bar, later[at]!, shift))),
      })).reduce((a, b) => (b.value > a.value ? b : a));
    });
    const alike = mean(found.map(({ value }) => value));
    if (alike < ALIKE_MOVED || Math.min(...found.map(({ value }) => value)) < 0.7) continue;
    const shifts = [0, ...found.map(({ shift }) => shift)];
    return [rounded({ startBar: first + 1, bars: period, repeats, likeness: alike, shifts })];
  }
  return [];
}

/** Nearest first. */
const SHIFTS = Array.from({ length: 25 }, (_, k) => (k % 2 === 0 ? k / 2 : -(k + 1) / 2));
