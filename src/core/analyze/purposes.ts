import { upperMedian } from '../numbers.ts';
import type { Take } from '../capture/take.ts';
import type { Purpose, Section } from '../music/form.ts';
import { pitchClass } from '../music/pitch.ts';
import { barStart, positionAt } from '../music/timeline.ts';
import { UNPITCHED } from '../split/roles.ts';
import { playingParts, type Split } from '../split/split.ts';
import type { ChordFinding } from './chords.ts';
import { MOST_BARS } from './chroma.ts';
import { keyAt, type KeySpan } from './key-spans.ts';
import type { FoundSection } from './sections.ts';

/** A drum bar is a fill where it is less like the bars around it than this share of what they are like each other. */
const GROOVE = 0.775;

/** Fewer parts than this share of those that play at the most is a break, an intro or an ending. */
const THIN = 0.67;

/**
 * Bars (from 1) in which the drums leave their groove just before a section begins or four bars are over: the
 * groove is what their bars have most in common.
 */
export function findFills(take: Take, split: Split, sections: readonly FoundSection[]): number[] {
  const { timeline } = take.timing;
  const step = timeline.ppq / 4;
  const bars: Set<number>[] = [];
  for (const { part, notes } of playingParts(split)) {
    if (part.role !== 'drums') continue;
    for (const i of notes) {
      const tick = take.notes.tick[i]! + step / 2;
      const { bar } = positionAt(timeline, tick);
      if (bar > MOST_BARS) continue;
      while (bars.length < bar) bars.push(new Set());
      bars[bar - 1]!.add(Math.floor((tick - barStart(timeline, bar)) / step) * 128 + take.notes.pitch[i]!);
    }
  }
  const starts = new Set(sections.map(({ startBar }) => startBar));
  return bars.flatMap((own, at) => {
    const around = bars.filter((other, k) => k !== at && Math.abs(k - at) <= 8 && other.size > 0);
    const typical = upperMedian(around.map(({ size }) => size));
    // A last stroke is no fill.
    if (own.size < typical / 2 || around.length < 3) return [];
    const usual = around.map((other) => dice(own, other)).sort((a, b) => b - a)[
      Math.floor(around.length / 3)
    ]!;
    const isBefore = starts.has(at + 2) || (at + 1) % 4 === 0 || at === bars.length - 1;
    const neighbors = around.map(
      (other) =>
        around.map((third) => dice(other, third)).sort((a, b) => b - a)[Math.floor(around.length / 3)]!,
    );
    const groove = upperMedian(neighbors);
    return isBefore && usual < groove * GROOVE ? [at + 1] : [];
  });
}

function dice(one: ReadonlySet<number>, other: ReadonlySet<number>): number {
  let both = 0;
  for (const value of one) if (other.has(value)) both++;
  return (2 * both) / Math.max(1, one.size + other.size);
}

/**
 * What each section is for: the fullest that comes most is the groove, another full one a variation; thin at the
 * beginning is an intro, at the end an ending, without its drums between a break; a full kit alone is none. Two bars at the most before the first
 * again, on the dominant, are a turnaround: see `purposeOfBars`.
 */
export function purposesOf(
  take: Take,
  split: Split,
  sections: readonly FoundSection[],
  tailBars: number,
): Purpose[] {
  const fullness = sections.map((section) => partsIn(take, split, section));
  const most = Math.max(...fullness.map(({ parts }) => parts));
  const hasDrums = fullness.some(({ drums }) => drums);
  const barsOf = new Map<string, number>();
  sections.forEach(({ label, bars }, k) => {
    if (fullness[k]!.parts >= THIN * most) barsOf.set(label, (barsOf.get(label) ?? 0) + bars);
  });
  const [main] = [...barsOf].sort((a, b) => b[1] - a[1])[0] ?? [];
  const lastBar = Math.max(...sections.map(({ startBar, bars }) => startBar + bars - 1));
  return sections.map(({ startBar, bars, label }, k): Purpose => {
    const { parts, drums } = fullness[k]!;
    const thin = parts < THIN * most || (hasDrums && !drums);
    if (sections.length > 1 && startBar + bars - 1 === lastBar && (bars <= tailBars || (thin && bars <= 4)))
      return 'ending';
    if (k === 0 && sections.length > 1 && thin) return 'intro';
    if (thin && !drums) return 'break';
    return label === main ? 'groove' : 'variation';
  });
}

function partsIn(
  take: Take,
  split: Split,
  { startBar, bars }: FoundSection,
): { parts: number; drums: boolean } {
  const { timeline } = take.timing;
  const early = timeline.ppq / 8;
  const [from, to] = [barStart(timeline, startBar) - early, barStart(timeline, startBar + bars) - early];
  const within = playingParts(split).filter(({ notes }) => {
    const own = notes.filter((i) => take.notes.tick[i]! >= from && take.notes.tick[i]! < to);
    // A stroke or two are the end of something else.
    return own.length >= Math.min(3, bars);
  });
  return {
    parts: within.length,
    drums: within.some(({ part }) => UNPITCHED.has(part.role) && part.role !== 'click'),
  };
}

/** So many bars at the most lead back to the beginning. */
const LONGEST_TURNAROUND = 2;

/**
 * What some bars (`start` from 1) are for: fills where all of them are; a turnaround where one or two at the end of a
 * section close on the dominant before something begins again; else what the section is for in which most of them lie.
 */
export function purposeOfBars(
  {
    sections,
    fills,
    chords,
    keySpans,
  }: {
    sections: readonly Section[];
    fills: readonly number[];
    chords: readonly ChordFinding[];
    keySpans: readonly KeySpan[];
  },
  { start, count }: { start: number; count: number },
): Purpose {
  const last = start + count - 1;
  const bars = Array.from({ length: count }, (_, k) => start + k);
  if (bars.every((bar) => fills.includes(bar))) return 'fill';
  const shared = ({ startBar, bars: length }: Section) =>
    Math.min(last, startBar + length - 1) - Math.max(start, startBar) + 1;
  const [section] = [...sections].sort((a, b) => shared(b) - shared(a));
  if (!section) return 'groove';
  const end = section.startBar + section.bars - 1;
  const key = keyAt(keySpans, last);
  const dominant = key && pitchClass(key.tonic + 7);
  const closing = chords.findLast(({ bar }) => bar <= last)?.chord;
  const leadsBack =
    last === end &&
    end < Math.max(...sections.map((one) => one.startBar + one.bars - 1)) &&
    closing?.root === dominant &&
    closing?.quality.tones.includes(4);
  return count <= LONGEST_TURNAROUND && count < section.bars && leadsBack ? 'turnaround' : section.purpose;
}
