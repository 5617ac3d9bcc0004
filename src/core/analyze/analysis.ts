import type { Take } from '../capture/take.ts';
import { parseSymbol, type ChordName } from '../music/chord.ts';
import type { Section, WholeForm } from '../music/form.ts';
import { sameKey, type Key } from '../music/key.ts';
import { barsUntil, bpmOf, meantBar, meterAt, positionAt, tempoAt } from '../music/timeline.ts';
import type { ByHand, WrittenChord } from '../split/by-hand.ts';
import type { Proposal } from '../split/proposals.ts';
import { UNPITCHED } from '../split/roles.ts';
import { playingParts, type PlayingPart, type Split } from '../split/split.ts';
import { askedSections } from './asked-sections.ts';
import { checkChart, type ChartCheck } from './chart-check.ts';
import { findChords, type ChordFinding } from './chords.ts';
import { chromaOf, type Chroma } from './chroma.ts';
import { findEdges, type Edges } from './edges.ts';
import { featuresOf, type Features } from './features.ts';
import { findFeel, latenessOf, type Feel, type Lateness } from './feel.ts';
import { findKeysOf, type KeyFinding } from './key.ts';
import { findKeySpans, type KeySpan } from './key-spans.ts';
import { bestLoopFirst } from './loops.ts';
import { musicProposals } from './music-proposals.ts';
import { loopsOfPart, type PartLoop } from './part-loops.ts';
import { findFills, purposesOf } from './purposes.ts';
import { keysStand, spansOfKeys, type Told } from './reading.ts';
import { findSections } from './sections.ts';
import { findWholeForm } from './whole-form.ts';

/** How a part is played. */
export interface PartFeel {
  part: string;
  feel: Feel;
  features: Features;
  /** Against all other parts; null where they share too little. */
  lateness: Lateness | null;
}

/** What a take says of itself. */
export interface Analysis extends Edges {
  /** BPM at the beginning, as the file says or as is assumed. */
  bpm: number;
  meter: { numerator: number; denominator: number };
  /** Bars in which something begins. */
  bars: number;
  /** Likeliest first, one chosen by hand before all; empty where nothing is pitched. */
  keys: KeyFinding[];
  /** Where the key changes; one span where it does not. */
  keySpans: KeySpan[];
  chords: ChordFinding[];
  /** Of parts, best first; those without a loop left out. */
  loops: PartLoop[];
  sections: Section[];
  /** What it goes round in as a whole; null where it does not. */
  form: WholeForm | null;
  /** True where sections were set by hand. */
  sectionsByHand: boolean;
  /** Bars (from 1) in which the drums lead on. */
  fills: number[];
  feel: Feel;
  parts: PartFeel[];
  chartCheck: ChartCheck | null;
  proposals: Proposal[];
}

/** What is known beside the notes. */
export interface Known {
  byHand?: ByHand;
  chart?: string;
  /** Bars that were asked for. */
  asked?: number;
  /** What an older method had found where the take stands: it says so still. */
  told?: Told | undefined;
}

/**
 * Analyzes a take as it is split; what was said by hand stands over what is found, and what the take was told over what would be
 * found today.
 * @throws ChartError where a chart is given that cannot be read.
 */
export function analyzeTake(take: Take, split: Split, { byHand, chart, asked, told }: Known = {}): Analysis {
  const { timeline } = take.timing;
  const { chroma, chords, keys } = harmonyOf(take, split, byHand, told);
  const playing = playingParts(split);
  const key = keys[0] ?? null;
  const bars = lastBar(take);
  const meter = meterAt(timeline, 0);
  const whole = playing.flatMap((part) => loopsOfPart(take, part));
  const edges = findEdges(take, split, whole, chords);
  // An ending is no part of what comes back.
  const loops = told?.loops
    ? namedAsNow(told.loops, playing)
    : edges.tailBars > 0
      ? playing.flatMap((part) => loopsOfPart(take, part, bars - edges.tailBars))
      : whole;
  const sections = told?.sections ?? sectionsOf(take, split, edges.tailBars);
  const chartCheck = chart ? checkChart(chart, meter.numerator, chords, bars, key) : null;
  const named = chart && chartCheck ? askedSections(chart, chartCheck, sections) : null;
  return {
    bpm: bpmOf(tempoAt(timeline, 0).microseconds),
    meter: { numerator: meter.numerator, denominator: meter.denominator },
    ...edges,
    bars,
    keys,
    keySpans: keySpansOf({ chroma, chords }, bars, byHand, told),
    chords,
    loops: loops.sort(bestLoopFirst),
    sections: byHand?.sections ?? named ?? sections,
    form: findWholeForm(chords, bars),
    sectionsByHand: Boolean(byHand?.sections),
    fills: findFills(take, split, sections),
    feel: findFeel(take, timekeepers(playing)),
    parts: playing.map((part) => feelOfPart(take, part, playing)),
    chartCheck,
    proposals: musicProposals(take, split, { edges, bars, key, chartCheck, asked: asked ?? null }),
  };
}

/** What sounds in each beat of a take, its chords, and its keys, likeliest first. */
export interface Harmony {
  chroma: Chroma;
  chords: ChordFinding[];
  /** As found, and with one that was chosen before all. */
  foundKeys: KeyFinding[];
  keys: KeyFinding[];
}

/** The harmony of a take, with what was said by hand over what is found. */
export function harmonyOf(take: Take, split: Split, byHand?: ByHand, told?: Told): Harmony {
  const chroma = chromaOf(take, split);
  const found = told?.chords ?? findChords(chroma);
  const chords = byHand ? withWritten(take, found, byHand.chords) : found;
  const foundKeys = keysStand(told, byHand) ? told.keys : findKeysOf(chroma, chords);
  return { chroma, chords, foundKeys, keys: keysWith(foundKeys, byHand?.key ?? null) };
}

/** Where the key changes: nowhere where it was chosen; as it was told where that stands; else as it is found. */
function keySpansOf(
  { chroma, chords }: Pick<Harmony, 'chroma' | 'chords'>,
  bars: number,
  byHand: ByHand | undefined,
  told: Told | undefined,
): KeySpan[] {
  if (byHand?.key) return [{ ...byHand.key, startBar: 1, bars }];
  if (keysStand(told, byHand) && told.keySpans) return told.keySpans;
  const found = findKeySpans(chroma, chords);
  return keysStand(told, byHand) ? spansOfKeys(told.keys, found, bars) : found;
}

function sectionsOf(take: Take, split: Split, tailBars: number): Section[] {
  const sections = findSections(take, split, tailBars);
  const purposes = purposesOf(take, split, sections, tailBars);
  return sections.map((section, k) => ({ ...section, purpose: purposes[k]! }));
}

/** Loops that were told under the names that their parts have today; of parts that play no longer there are none. */
function namedAsNow(loops: readonly PartLoop[], playing: readonly PlayingPart[]): PartLoop[] {
  const names = new Map(playing.map(({ part }) => [part.id, part.name]));
  return loops.flatMap((loop) => {
    const name = names.get(loop.part);
    return name === undefined ? [] : [{ ...loop, name }];
  });
}

/** The last bar in which something begins; what begins a little ahead of a bar line belongs to it. */
function lastBar(take: Take): number {
  const { timeline } = take.timing;
  const last = take.notes.tick.reduce((most, tick) => Math.max(most, tick), -1);
  return last < 0 ? 0 : Math.max(barsUntil(timeline, last + 1), meantBar(timeline, last));
}

function timekeepers(playing: readonly PlayingPart[]): number[] {
  const drums = playing.filter(({ part }) => part.role === 'drums');
  return (drums.length > 0 ? drums : playing.filter(({ part }) => !UNPITCHED.has(part.role))).flatMap(
    ({ notes }) => notes,
  );
}

function feelOfPart(take: Take, { part, notes }: PlayingPart, playing: readonly PlayingPart[]): PartFeel {
  const others = playing.filter(({ part: other }) => other.id !== part.id).flatMap(({ notes: own }) => own);
  return {
    part: part.id,
    feel: findFeel(take, notes),
    features: featuresOf(take, notes)!,
    lateness: others.length > 0 ? latenessOf(take, notes, others) : null,
  };
}

/** The key that was chosen stands first, and is certain. */
function keysWith(found: KeyFinding[], chosen: Key | null): KeyFinding[] {
  if (!chosen) return found;
  return [{ ...chosen, certainty: 1 }, ...found.filter((other) => !sameKey(other, chosen))];
}

/** Chords as found, with what was written by hand over them. A symbol that cannot be read is left as found. */
function withWritten(
  take: Take,
  found: readonly ChordFinding[],
  written: readonly WrittenChord[],
): ChordFinding[] {
  let chords = [...found];
  for (const { fromTick, toTick, symbol } of written) {
    const chord: ChordName | null | undefined = symbol === '' ? null : parseSymbol(symbol);
    if (chord === undefined) continue;
    const around = chords.flatMap((one) => piecesOutside(take, one, fromTick, toTick));
    const own = {
      startTick: fromTick,
      endTick: toTick,
      ...placeOf(take, fromTick),
      chord,
      certainty: 1,
      byHand: true,
    };
    chords = [...around, own].sort((a, b) => a.startTick - b.startTick);
  }
  return chords;
}

function piecesOutside(take: Take, chord: ChordFinding, from: number, to: number): ChordFinding[] {
  const before = { ...chord, endTick: Math.min(chord.endTick, from) };
  const start = Math.max(chord.startTick, to);
  const after = { ...chord, startTick: start, ...(start === chord.startTick ? {} : placeOf(take, start)) };
  return [before, after].filter(({ startTick, endTick }) => endTick > startTick);
}

function placeOf(take: Take, tick: number): { bar: number; beat: number } {
  const { bar, beat } = positionAt(take.timing.timeline, tick);
  return { bar, beat };
}
