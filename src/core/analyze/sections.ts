import type { Take } from '../capture/take.ts';
import type { Section } from '../music/form.ts';
import { positionAt } from '../music/timeline.ts';
import { UNPITCHED } from '../split/roles.ts';
import type { Split } from '../split/split.ts';

/** A stretch of a take that is one thing: "A" again is the same thing again. */
export type FoundSection = Omit<Section, 'purpose'>;

/** Bars on either side of a boundary that are held against each other. */
const KERNEL = 4;

/** Sections shorter than this are fills. */
const SHORTEST = 4;

/** From here on two sections are one thing. */
const ALIKE = 0.9;

/**
 * Sections by novelty on the self-similarity of bars (Foote, "Automatic audio segmentation using a measure of audio novelty",
 * ICME 2000): each bar is what pitch classes sound and how much each part plays; a checkerboard of four bars a side goes
 * along the diagonal, and its peaks are boundaries.
 */
export function findSections(take: Take, split: Split): FoundSection[] {
  const bars = barFeatures(take, split);
  if (bars.length === 0) return [];
  const marked = sectionsByMarkers(take, bars.length);
  if (marked.length > 1) return marked;
  const novelty = bars.map((_, at) => noveltyAt(bars, at));
  const mean = novelty.reduce((sum, value) => sum + value, 0) / novelty.length;
  const spread = Math.sqrt(novelty.reduce((sum, value) => sum + (value - mean) ** 2, 0) / novelty.length);
  const starts = [0];
  novelty.forEach((value, at) => {
    const isPeak = value >= (novelty[at - 1] ?? 0) && value > (novelty[at + 1] ?? 0);
    if (
      isPeak &&
      value > mean + spread &&
      value > 0.1 &&
      at - starts.at(-1)! >= SHORTEST &&
      bars.length - at >= 2
    )
      starts.push(at);
  });
  return labeled(bars, starts);
}

/** Where the file itself names two places or more at bar lines, they are its sections. */
function sectionsByMarkers({ timing }: Take, bars: number): FoundSection[] {
  const early = timing.timeline.ppq / 2;
  const named = timing.markers
    .map(({ tick, text }) => ({ bar: positionAt(timing.timeline, tick + early).bar, text: text.trim() }))
    .filter(
      ({ bar, text }, k, all) => text !== '' && bar <= bars && all.findIndex((one) => one.bar === bar) === k,
    );
  return named.map(({ bar, text }, k) => {
    // What comes before the first is part of it.
    const startBar = k === 0 ? 1 : bar;
    return { startBar, bars: (named[k + 1]?.bar ?? bars + 1) - startBar, label: text };
  });
}

function barFeatures(take: Take, split: Split): Float64Array[] {
  const { notes, timing } = take;
  const bars: Float64Array[] = [];
  const size = 12 + split.parts.length;
  for (let i = 0; i < notes.length; i++) {
    const owner = split.owner[i]!;
    const part = split.parts[owner];
    if (!part) continue;
    const { bar } = positionAt(timing.timeline, notes.tick[i]! + timing.timeline.ppq / 8);
    if (bar > 4096) continue;
    while (bars.length < bar) bars.push(new Float64Array(size));
    if (!UNPITCHED.has(part.role)) bars[bar - 1]![notes.pitch[i]! % 12]! += 1;
    bars[bar - 1]![12 + owner]! += 1;
  }
  // A dense part must not drown the others: what counts is that it plays, and about how much.
  for (const bar of bars) bar.forEach((value, k) => (bar[k] = Math.sqrt(value)));
  return bars;
}

function noveltyAt(bars: readonly Float64Array[], at: number): number {
  if (at < 2 || at > bars.length - 2) return 0;
  const before = bars.slice(Math.max(0, at - KERNEL), at);
  const after = bars.slice(at, at + KERNEL);
  return (within(before) + within(after)) / 2 - across(before, after);
}

function within(bars: readonly Float64Array[]): number {
  return across(bars, bars);
}

function across(one: readonly Float64Array[], other: readonly Float64Array[]): number {
  let sum = 0;
  for (const a of one) for (const b of other) sum += cosine(a, b);
  return sum / (one.length * other.length);
}

function cosine(a: Float64Array, b: Float64Array): number {
  let dot = 0;
  let lengthA = 0;
  let lengthB = 0;
  for (let k = 0; k < a.length; k++) {
    dot += a[k]! * b[k]!;
    lengthA += a[k]! ** 2;
    lengthB += b[k]! ** 2;
  }
  if (lengthA === 0 && lengthB === 0) return 1;
  return lengthA === 0 || lengthB === 0 ? 0 : dot / Math.sqrt(lengthA * lengthB);
}

/** Sections named in the order in which they are first heard. */
function labeled(bars: readonly Float64Array[], starts: readonly number[]): FoundSection[] {
  const known: { label: string; mean: Float64Array }[] = [];
  const sections = starts.map((start, k) => {
    const end = starts[k + 1] ?? bars.length;
    const mean = new Float64Array(bars[0]!.length);
    for (let bar = start; bar < end; bar++) bars[bar]!.forEach((value, at) => (mean[at]! += value));
    let same = known.find((other) => cosine(other.mean, mean) >= ALIKE);
    if (!same) known.push((same = { label: labelOf(known.length), mean }));
    return { startBar: start + 1, bars: end - start, label: same.label };
  });
  const joined: FoundSection[] = [];
  for (const section of sections) {
    const last = joined.at(-1);
    if (last?.label === section.label) last.bars += section.bars;
    else joined.push(section);
  }
  return joined;
}

function labelOf(n: number): string {
  return n < 26 ? String.fromCharCode(65 + n) : `${labelOf(Math.floor(n / 26) - 1)}${labelOf(n % 26)}`;
}
