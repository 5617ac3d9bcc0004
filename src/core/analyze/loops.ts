import type { Take } from '../capture/take.ts';
import { chordTones } from '../music/chord.ts';
import { barStart, barsUntil, positionAt } from '../music/timeline.ts';
import type { ChordFinding } from './chords.ts';

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
const SURE_OF_GAIN = 2;

/** How much pitches count against onsets. */
const PITCH_SHARE = 0.8;

/** What one pair must be more alike than many. */
const FEW_PAIRS = 1;

/** An intro is so long at the most. */
const LONGEST_INTRO = 8;

/** What a bar plays: places of a grid, and pitches on them. */
interface Bar {
  onsets: Set<number>;
  notes: Set<number>;
}

/**
 * The loops of a part, best first; empty where nothing repeats. A period explains a part when each bar is like the
 * one a period later, judged by pitches more than by onsets, and more alike than bars are that do not repeat; the
 * shortest that does so nearly as well as the best is the loop, unless a longer one tells what is different each time.
 * Bars before it, an intro, are left out. Where nothing stays in place, blocks that move by a step as a whole are sought.
 */
export function findLoops(take: Take, indices: readonly number[]): LoopFinding[] {
  return loopsAmong(barsOf(take, indices));
}

/** The loops of the changes: bars are what chords begin or are held in them, by beat. */
export function findChordLoops(chords: readonly ChordFinding[], bars: number): LoopFinding[] {
  const sounding: Bar[] = Array.from({ length: bars }, () => ({ onsets: new Set(), notes: new Set() }));
  let at = 0;
  for (let bar = 1; bar <= bars; bar++) {
    while (
      at + 1 < chords.length &&
      (chords[at + 1]!.bar < bar || (chords[at + 1]!.bar === bar && chords[at + 1]!.beat === 1))
    )
      at++;
    const own = [chords[at], ...chords.filter((chord) => chord.bar === bar && chord.beat > 1)];
    for (const finding of own) {
      if (!finding?.chord || finding.bar > bar) continue;
      const beat = finding.bar === bar ? finding.beat - 1 : 0;
      sounding[bar - 1]!.onsets.add(beat);
      for (const tone of chordTones(finding.chord)) sounding[bar - 1]!.notes.add(beat * 128 + tone);
    }
  }
  return loopsAmong(sounding);
}

function loopsAmong(bars: readonly Bar[]): LoopFinding[] {
  const first = bars.findIndex(({ notes }) => notes.size > 0);
  if (first < 0) return [];
  const playing = bars.slice(0, bars.findLastIndex(({ notes }) => notes.size > 0) + 1);
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
  const bars: Bar[] = [];
  const early = EARLY * timeline.ppq;
  for (const i of indices) {
    const { bar } = positionAt(timeline, take.notes.tick[i]! + early);
    while (bars.length < bar) bars.push({ onsets: new Set(), notes: new Set() });
    const step = Math.round((take.notes.tick[i]! - barStart(timeline, bar)) / (timeline.ppq * GRID));
    bars[bar - 1]!.onsets.add(step);
    bars[bar - 1]!.notes.add(step * 128 + take.notes.pitch[i]!);
  }
  const end = Math.min(4096, barsUntil(timeline, take.timing.ticks));
  while (bars.length < end) bars.push({ onsets: new Set(), notes: new Set() });
  return bars;
}

/** How alike two bars are, asked once for each pair. */
type Likeness = (one: number, other: number) => number;

function likenessTable(bars: readonly Bar[]): Likeness {
  const known = new Map<number, number>();
  return (one, other) => {
    const key = one * bars.length + other;
    let value = known.get(key);
    if (value === undefined) known.set(key, (value = barLikeness(bars[one]!, bars[other]!)));
    return value;
  };
}

/** 0..1; two bars without notes tell nothing for or against. */
function barLikeness(one: Bar, other: Bar, shift = 0): number {
  if (one.notes.size === 0 && other.notes.size === 0) return 0.5;
  return (
    PITCH_SHARE * shared(one.notes, other.notes, shift) + (1 - PITCH_SHARE) * shared(one.onsets, other.onsets)
  );
}

/** Dice's coefficient: twice what both have over what each has. */
function shared(one: ReadonlySet<number>, other: ReadonlySet<number>, shift = 0): number {
  let both = 0;
  for (const value of one) if (other.has(value + shift)) both++;
  return one.size + other.size === 0 ? 1 : (2 * both) / (one.size + other.size);
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
  // A bar of the loop is like all its repeats about as well as its bars usually are; one of an intro is not.
  const others = othersOf(bars.length, best.start, period, likeness);
  const usual = median(best.pairs);
  const spread = median(best.pairs.map((value) => Math.abs(value - usual)));
  const least = Math.max(others + 0.5 * (usual - others), usual - Math.max(0.12, 8 * spread));
  const comesBack = (bar: number) =>
    mean(
      Array.from({ length: Math.floor((bars.length - 1 - bar) / period) }, (_, k) =>
        likeness(bar, bar + (k + 1) * period),
      ),
    );
  const found = options.find(({ start }) =>
    Array.from({ length: Math.min(period, bars.length - period - start) }, (_, k) =>
      comesBack(start + k),
    ).every((value) => value >= least),
  );
  const { start, mean: alike } = found ?? best;
  const standsOut = alike >= SURE || (alike >= ALIKE && alike >= others + OVER_OTHERS);
  // Where a quarter of the bars do not come back, the others do so by chance.
  const weakest = [...(found ?? best).pairs].sort((a, b) => a - b);
  if (alike < ALIKE || weakest[weakest.length >> 2]! < WEAKEST) return [];
  const repeats = Math.floor((bars.length - start) / period);
  // What is longer than twice all its repeats is no intro.
  if (start - first > 2 * period * repeats) return [];
  return [{ standsOut, loop: { startBar: start + 1, bars: period, repeats, likeness: alike, shifts: null } }];
}

/** Each bar against the one a period later. */
function pairsOf(bars: number, start: number, period: number, likeness: Likeness): number[] {
  return Array.from({ length: Math.max(0, bars - start - period) }, (_, k) =>
    likeness(start + k, start + k + period),
  );
}

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
  const start = longer.startBar - 1;
  const gains: number[] = [];
  for (let place = 0; place < longer.bars; place++) {
    const times = Array.from({ length: longer.repeats }, (_, k) => start + place + k * longer.bars);
    const before = times.filter((at) => at - shorter.bars >= start);
    const alike = mean(times.slice(1).map((at, k) => likeness(times[k]!, at)));
    const asBefore = before.map((at) => likeness(at - shorter.bars, at));
    gains.push(alike - mean(asBefore));
    if (
      before.length >= times.length - 1 &&
      alike - Math.max(...asBefore) > SYSTEMATIC + 2 * (1 - longer.likeness)
    )
      return true;
  }
  // Or all of it is a little more alike than chance would have it.
  const gain = mean(gains);
  const error = Math.sqrt(mean(gains.map((value) => (value - gain) ** 2)) / Math.max(1, gains.length - 1));
  return gains.length >= 3 && gain > 0.04 && gain > SURE_OF_GAIN * error;
}

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

function mean(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);
}

function median(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[values.length >> 1] ?? 0;
}
