import type { Take } from '../capture/take.ts';
import { chordTones } from '../music/chord.ts';
import { barLikeness, barOf, barsOf, likenessTable, type Bar, type Likeness } from './bars-alike.ts';
import { chordsByBar, type ChordFinding } from './chords.ts';
import { MOST_BARS } from './chroma.ts';
import { lowerQuartile, mean } from '../numbers.ts';
import { A_LITTLE, allRuns, LEVELS, type Level, type Run } from './repeats.ts';

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

/** The shortest period within this of the best explains a stretch. */
const ALMOST = 0.09;

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

/** What is longer, in bars, is a form rather than a loop to play with. */
const HANDY = 16;

/** Loops of one part at the most. */
const MOST_LOOPS = 8;

/**
 * The loops of a part, what explains most first; empty where nothing repeats. For every period up to 64 bars, the stretches are
 * sought over which each bar is like the one a period later, judged by pitches more than by onsets (all maximal scoring
 * subsequences: Ruzzo & Tompa 1999); silence votes for nothing. Of all stretches of all periods those are told that newly
 * explain most bars: the shorter period explains more of the same bars, unless a longer one tells what is different each time. Where
 * nothing stays in place, blocks that move by a step as a whole are sought. What comes after `lastBar`, an ending, is not looked at.
 */
export function findLoops(
  take: Take,
  indices: readonly number[],
  lastBar = Infinity,
  levels = LEVELS,
): LoopFinding[] {
  return loopsAmong(barsOf(take, indices).slice(0, lastBar), levels);
}

/** The loops of the changes: bars are what chords begin or are held in them, by beat. */
export function findChordLoops(chords: readonly ChordFinding[], bars: number): LoopFinding[] {
  const sounding = chordsByBar(chords, Math.min(MOST_BARS, bars)).map((inBar, k) => {
    const isOnOne = ({ bar, beat }: ChordFinding) => bar === k + 1 && beat === 1;
    return inBar.slice(Math.max(0, inBar.findLastIndex(isOnOne))).flatMap(({ chord, bar, beat }) => {
      const place = bar === k + 1 ? beat - 1 : 0;
      return chord ? chordTones(chord).map((tone) => place * 128 + tone) : [];
    });
  });
  return loopsAmong(sounding.map(barOf), LEVELS);
}

function loopsAmong(bars: readonly Bar[], asked: readonly Level[]): LoopFinding[] {
  const first = bars.findIndex(({ notes }) => notes.length > 0);
  if (first < 0) return [];
  const playing = bars.slice(0, bars.findLastIndex(({ notes }) => notes.length > 0) + 1);
  const likeness = likenessTable(playing);
  const levels = asked.map((level) => ({ level, runs: allRuns(playing, likeness, level) }));
  const runs = levels.flatMap((level) => level.runs).sort((a, b) => a.period - b.period);
  const told = inOrder(explaining(playing, levels, likeness).flatMap((run) => loopsOf(run, runs, likeness)));
  const best = Math.max(0, ...told.map((loop) => loop.likeness));
  const [moved] = movedBlocks(playing, first);
  if (moved && moved.likeness > best + 0.1) return [moved];
  return told.map(rounded);
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

/**
 * A stretch as a loop; of a longer period where that says more over much the same bars. Where that is a form rather than a
 * loop to play with, both are told.
 */
function loopsOf(run: Run, runs: readonly Run[], likeness: Likeness): LoopFinding[] {
  const [first, ...longer] = runs.filter((other) => isOver(run, other) && isNearlyBest(other, runs));
  const sayingMore = (from: Run, others: readonly Run[]) =>
    others.reduce(
      (now, other) => (saysMore(loopFinding(other), loopFinding(now), likeness) ? other : now),
      from,
    );
  const told = sayingMore(
    first!,
    longer.filter(({ period }) => period <= HANDY),
  );
  const form = sayingMore(
    told,
    longer.filter(({ period }) => period > HANDY),
  );
  return [...new Set([told, form])].map((one) => loopFinding(withVariations(one, runs)));
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
