import type { Take } from '../capture/take.ts';
import { chordTones } from '../music/chord.ts';
import { barStart, barsUntil, positionAt } from '../music/timeline.ts';
import type { ChordFinding } from './chords.ts';
import { MOST_BARS } from './chroma.ts';
import { lowerQuartile, mean, upperMedian } from './measures.ts';

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

/** Periods that are looked for, in bars. */
const PERIODS = [1, 2, 3, 4, 6, 8, 12, 16, 24, 32];

/** Notes of a bar on a grid of sixteenths, in quarter notes. */
const GRID = 1 / 4;

/** A note this much ahead of its bar belongs to the next, in quarter notes. */
const EARLY = 1 / 8;

/** The shortest period within this of the best explains the part. */
const ALMOST = 0.12;

/** Below this nothing is claimed. */
const ALIKE = 0.55;

/** At most a quarter of the bars may be less like their repeats: fills, and what goes wrong. */
const WEAKEST = 0.5;

/** A loop is this much more alike than bars that are no repeats of each other, or is no more than the style. */
const OVER_OTHERS = 0.18;

/** From here on repeats are exact enough to need no bars to compare with. */
const SURE = 0.9;

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

/** What one pair must be more alike than many. */
const FEW_PAIRS = 1;

/** Repeats that differ from each other by no more are exact. */
const EXACT = 0.03;

/** So much must tell for an intro, in likenesses between a repeat and any other bar. */
const INTRO = 0.15;

/** An intro is so long at the most. */
const LONGEST_INTRO = 8;

/** What a bar plays: places of a grid, and pitches on them. */
interface Bar {
  /** Ascending. */
  onsets: Int32Array;
  notes: Int32Array;
}

/**
 * The loops of a part, best first; empty where nothing repeats. A period explains a part when each bar is like the
 * one a period later, judged by pitches more than by onsets, and more alike than bars are that do not repeat; the
 * shortest that does so nearly as well as the best is the loop, unless a longer one tells what is different each time.
 * Bars before it, an intro, are left out. Where nothing stays in place, blocks that move by a step as a whole are
 * sought. What comes after `lastBar`, an ending, is not looked at.
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
  const found = PERIODS.flatMap((period) => bestStart(playing, likeness, period, first));
  const candidates = found
    .filter(
      // In a groove whose bars are all alike, a longer period can only say more than a shorter.
      ({ standsOut, loop }) =>
        standsOut || found.some((shorter) => shorter.standsOut && loop.bars % shorter.loop.bars === 0),
    )
    .map(({ loop }) => loop);
  const best = Math.max(0, ...candidates.map((candidate) => candidate.likeness));
  const good = candidates.filter((candidate) => candidate.likeness >= best - ALMOST);
  const [moved] = movedBlocks(playing, first);
  if (moved && moved.likeness > best + 0.1) return [moved];
  let told = good[0];
  if (!told) return [];
  // A longer one that says more comes before the shorter that it is made of.
  for (const longer of good) if (saysMore(longer, told, likeness)) told = longer;
  return [told, ...good.filter((other) => other !== told)].map(rounded);
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

/**
 * The earliest start from which a period repeats, and whose first bars come back: bars of an intro do not. None where
 * it is not played twice.
 */
function bestStart(
  bars: readonly Bar[],
  likeness: Likeness,
  period: number,
  first: number,
): { standsOut: boolean; loop: LoopFinding }[] {
  const latest = Math.min(first + LONGEST_INTRO, bars.length - 2 * period);
  const options = Array.from({ length: Math.max(0, latest - first + 1) }, (_, k) => {
    const start = first + k;
    const pairs = pairsOf(bars.length, start, period, likeness);
    // A few pairs are easily alike.
    return { start, pairs, mean: mean(pairs), trust: mean(pairs) - FEW_PAIRS / Math.sqrt(pairs.length) };
  });
  const best = options.reduce((a, b) => (b.trust > a.trust + 0.01 ? b : a), options[0]!);
  if (!best) return [];
  const others = othersOf(bars.length, best.start, period, likeness);
  const start = startOf(options[0]!.start, best, period, others, bars.length, likeness);
  const repeats = Math.floor((bars.length - start) / period);
  const pairs = pairsOf(bars.length, start, period, likeness);
  const alike = mean(pairs);
  const standsOut = alike >= SURE || (alike >= ALIKE && alike >= others + OVER_OTHERS);
  // Where a quarter of the bars do not come back, the others do so by chance.
  if (alike < ALIKE || lowerQuartile(pairs) < WEAKEST) return [];
  // What is longer than all its repeats is no intro.
  if (start - first > Math.max(LONGEST_INTRO / 2, period * repeats)) return [];
  return [{ standsOut, loop: { startBar: start + 1, bars: period, repeats, likeness: alike, shifts: null } }];
}

/**
 * Where a period begins to repeat, an intro of other bars left out: a bar of the loop is like all its repeats about as
 * well as its bars usually are, and one that is unlike them by chance is no intro.
 */
function startOf(
  first: number,
  best: { start: number; pairs: readonly number[] },
  period: number,
  others: number,
  bars: number,
  likeness: Likeness,
): number {
  const usual = upperMedian(best.pairs);
  const spread = upperMedian(best.pairs.map((value) => Math.abs(value - usual)));
  const isExact = spread < EXACT;
  const least = isExact ? usual - 2 * EXACT : (usual + others) / 2;
  const scale = isExact ? 4 * EXACT : Math.max(0.1, usual - others);
  // A fill in its place must not make a bar of the loop look like one of an intro.
  const comesBack = (bar: number) =>
    Math.max(
      ...Array.from({ length: Math.floor((bars - 1 - bar) / period) }, (_, k) =>
        likeness(bar, bar + (k + 1) * period),
      ),
    );
  let [start, told, most] = [first, 0, INTRO];
  const last = Math.min(first + LONGEST_INTRO, bars - 2 * period);
  for (let bar = first; bar < last; bar++) {
    told += (least - comesBack(bar)) / scale;
    if (told > most) [start, most] = [bar + 1, told];
  }
  return start;
}

/** Each bar against those some periods later, a few of them: one repeat that went wrong tells less. */
function pairsOf(bars: number, start: number, period: number, likeness: Likeness): number[] {
  return Array.from({ length: Math.max(0, bars - start - period) }, (_, k) => {
    const bar = start + k;
    const repeats = Math.min(MOST_REPEATS, Math.floor((bars - 1 - bar) / period));
    return mean(Array.from({ length: repeats }, (_, time) => likeness(bar, bar + (time + 1) * period)));
  });
}

/** A bar is held against so many of its repeats. */
const MOST_REPEATS = 3;

/** How alike bars are that this period does not call the same; 0 where it calls all the same. */
function othersOf(bars: number, start: number, period: number, likeness: Likeness): number {
  const values: number[] = [];
  const most = Math.min(bars, start + 32);
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

/** Bars farther from each other are not held against each other. */
const FARTHEST = 48;

/** The loop whose repeats each lie some semitones over the first; the shortest period that is alike enough. */
function movedBlocks(bars: readonly Bar[], first: number): LoopFinding[] {
  for (const period of PERIODS) {
    const repeats = Math.floor((bars.length - first) / period);
    // Moved once may be chance, and one bar moved is a way of playing chords.
    if (period === 1 || repeats < 3) continue;
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
