import type { Take } from '../capture/take.ts';
import type { Section } from '../music/form.ts';
import { positionAt } from '../music/timeline.ts';
import { UNPITCHED } from '../split/roles.ts';
import type { Split } from '../split/split.ts';
import { barLikeness, barsOf, sharedNotes, type Bar } from './bars-alike.ts';
import { MOST_BARS } from './chroma.ts';
import { cosine } from '../numbers.ts';

/** A stretch of a take that is one thing: "A" again is the same thing again. */
export type FoundSection = Omit<Section, 'purpose'>;

/** Bars on either side of a boundary that are held against each other. */
const KERNEL = 4;

/** How much likelier a section begins after four bars. */
const ON_FOUR = 1.25;

/** What is newer than this is a boundary. */
const NEW = 0.055;

/** And than the mean of all places by so many standard deviations. */
const SPREADS = 0.5;

/** Sections shorter than this are fills. */
const SHORTEST = 4;

/** From here on two sections are one thing. */
const ALIKE = 0.97;

/**
 * Sections by novelty (after Foote, "Automatic audio segmentation using a measure of audio novelty", ICME 2000): each bar is
 * what pitch classes sound and how much each part plays; the four bars before each place are held against the four after
 * it, and the peaks are boundaries. Markers of the file come before them; `tailBars` after the form are one more.
 */
export function findSections(take: Take, split: Split, tailBars = 0): FoundSection[] {
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
      value > mean + SPREADS * spread &&
      value > NEW &&
      at - starts.at(-1)! >= SHORTEST &&
      bars.length - at >= 2
    )
      starts.push(at);
  });
  const played = playedBars(take, split);
  return labeled(
    bars,
    played,
    withTail(
      asRepeated(starts, repeatedStretches(played), (bar) => (novelty[bar] ?? 0) > NEW),
      bars.length,
      tailBars,
    ),
  );
}

/** Bars [from, to), counted from 0, that come again to the note `lag` bars later. */
interface Stretch {
  from: number;
  to: number;
  lag: number;
}

/** What comes again for so many bars is the same part of the form. */
const PART_OF_FORM = 8;

/** The stretches of bars that come again in all parts, the longest first. */
function repeatedStretches(played: readonly Bar[]): Stretch[] {
  const stretches: Stretch[] = [];
  for (let lag = PART_OF_FORM; lag <= played.length - PART_OF_FORM; lag++) {
    let from = 0;
    for (let bar = 0; bar <= played.length - lag; bar++) {
      const again = bar < played.length - lag && barLikeness(played[bar]!, played[bar + lag]!) >= TO_THE_NOTE;
      if (again) continue;
      if (bar - from >= PART_OF_FORM) stretches.push({ from, to: bar, lag });
      from = bar + 1;
    }
  }
  return stretches.sort((a, b) => b.to - b.from - (a.to - a.from) || a.lag - b.lag);
}

/** Bars of all parts that are this much alike are the same; two without notes are neither like nor unlike. */
const TO_THE_NOTE = 0.85;

/** Where sections begin, so that what comes again is divided as it was the first time, and begins and ends on its own. */
function asRepeated(
  starts: readonly number[],
  stretches: readonly Stretch[],
  isNew: (bar: number) => boolean,
): number[] {
  const now = new Set(starts);
  const near = (bar: number) => [...now].filter((start) => Math.abs(start - bar) < SHORTEST);
  for (const { from, to, lag } of stretches) {
    for (const start of [...now].filter((bar) => bar > from && bar < to)) {
      near(start + lag).forEach((other) => other !== 0 && now.delete(other));
      now.add(start + lag);
    }
    for (const start of [...now].filter((bar) => bar > from + lag && bar < to + lag))
      if (near(start - lag).length === 0) now.add(start - lag);
    for (const edge of [from, to, from + lag, to + lag])
      if (isNew(edge) && near(edge).length === 0) now.add(edge);
  }
  return [...now].sort((a, b) => a - b);
}

/** The tail after the form is a section of its own; a boundary that was found beside its beginning is that one. */
function withTail(starts: readonly number[], bars: number, tailBars: number): number[] {
  const tail = bars - tailBars;
  if (tailBars === 0 || tail <= 0) return [...starts];
  return [...starts.filter((start) => start === 0 || start < tail - 2), tail];
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
    if (bar > MOST_BARS) continue;
    while (bars.length < bar) bars.push(new Float64Array(size));
    if (!UNPITCHED.has(part.role)) bars[bar - 1]![notes.pitch[i]! % 12]! += 1;
    bars[bar - 1]![12 + owner]! += 1;
  }
  // A dense part must not drown the others: what counts is that it plays, and about how much.
  for (const bar of bars) bar.forEach((value, k) => (bar[k] = Math.sqrt(value)));
  return bars;
}

/**
 * 0..1: how unlike the bars before a place are to those after it. Held against each other as wholes: changes that go
 * round in four bars are the same whole wherever one looks.
 */
function noveltyAt(bars: readonly Float64Array[], at: number): number {
  if (at < 2 || at > bars.length - 2) return 0;
  const strength = 1 - cosine(sumOf(bars, at - KERNEL, at), sumOf(bars, at, at + KERNEL));
  // A few bars at either end are easily unlike the rest.
  const heard = Math.min(1, Math.min(at, bars.length - at) / KERNEL) ** 2;
  // Sections are four bars, or eight (common practice).
  return strength * heard * (at % 4 === 0 ? ON_FOUR : at % 2 === 0 ? 1 : 1 / ON_FOUR);
}

function sumOf(bars: readonly Float64Array[], from: number, to: number): Float64Array {
  const sum = new Float64Array(bars[0]!.length);
  for (const bar of bars.slice(Math.max(0, from), to)) bar.forEach((value, k) => (sum[k]! += value));
  return sum;
}

/** What all parts play in each bar, on a grid of sixteenths. */
function playedBars(take: Take, split: Split): Bar[] {
  const indices = [...split.owner.keys()].filter((note) => split.owner[note]! >= 0);
  return barsOf(take, indices);
}

/** Sections that sound of the same and share fewer of their notes are two things, such as two tunes over the same changes. */
const FEWEST_SHARED = 0.5;

/** Sections named in the order in which they are first heard. */
function labeled(
  bars: readonly Float64Array[],
  played: readonly Bar[],
  starts: readonly number[],
): FoundSection[] {
  const known: { label: string; sum: Float64Array; start: number; end: number }[] = [];
  const sections = starts.map((start, k) => {
    const end = starts[k + 1] ?? bars.length;
    const sum = sumOf(bars, start, end);
    const shares = (other: { start: number; end: number }) =>
      sharedNotes(played, other.start, start, Math.min(end - start, other.end - other.start)) >=
      FEWEST_SHARED;
    let same = known.find((other) => cosine(other.sum, sum) >= ALIKE && shares(other));
    if (!same) known.push((same = { label: labelOf(known.length), sum, start, end }));
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
