import type { Take } from '../capture/take.ts';
import { parseSymbol, type ChordName } from '../music/chord.ts';
import type { Section } from '../music/form.ts';
import { sameKey, type Key } from '../music/key.ts';
import { barsUntil, bpmOf, meterAt, positionAt, tempoAt } from '../music/timeline.ts';
import type { ByHand, WrittenChord } from '../split/by-hand.ts';
import type { Proposal } from '../split/proposals.ts';
import { UNPITCHED } from '../split/roles.ts';
import { playingParts, type PlayingPart, type Split } from '../split/split.ts';
import { checkChart, type ChartCheck } from './chart-check.ts';
import { findChords, type ChordFinding } from './chords.ts';
import { chromaOf, type Chroma } from './chroma.ts';
import { findEdges, type Edges } from './edges.ts';
import { featuresOf, type Features } from './features.ts';
import { findFeel, latenessOf, type Feel, type Lateness } from './feel.ts';
import { findKeysOf, findKeySpans, type KeyFinding, type KeySpan } from './key.ts';
import { bestLoopFirst, findLoops, type LoopFinding } from './loops.ts';
import { musicProposals } from './music-proposals.ts';
import { findFills, purposesOf } from './purposes.ts';
import { seamOf, type Seam } from './seam.ts';
import { findSections } from './sections.ts';

/** A stretch of a part that comes again, and what happens where it goes back to its beginning. */
export interface PartLoop extends LoopFinding {
  /** Id and name of the part. */
  part: string;
  name: string;
  seam: Seam;
}

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
}

/** Loops of one part that are told, at most. */
const LOOPS_A_PART = 6;

/**
 * Analyzes a take as it is split; what was said by hand stands over what is found.
 * @throws ChartError where a chart is given that cannot be read.
 */
export function analyzeTake(take: Take, split: Split, { byHand, chart, asked }: Known = {}): Analysis {
  const { timeline } = take.timing;
  const { chroma, chords, keys } = harmonyOf(take, split, byHand);
  const playing = playingParts(split);
  const key = keys[0] ?? null;
  const bars = lastBar(take);
  const meter = meterAt(timeline, 0);
  const whole = playing.flatMap((part) => loopsOfPart(take, part));
  const edges = findEdges(take, split, whole, chords);
  // An ending is no part of what comes back.
  const loops =
    edges.tailBars > 0 ? playing.flatMap((part) => loopsOfPart(take, part, bars - edges.tailBars)) : whole;
  const sections = findSections(take, split, edges.tailBars);
  const purposes = purposesOf(take, split, sections, edges.tailBars);
  const chartCheck = chart ? checkChart(chart, meter.numerator, chords, bars, key) : null;
  return {
    bpm: bpmOf(tempoAt(timeline, 0).microseconds),
    meter: { numerator: meter.numerator, denominator: meter.denominator },
    ...edges,
    bars,
    keys,
    keySpans: byHand?.key ? [{ ...byHand.key, startBar: 1, bars }] : findKeySpans(chroma, chords),
    chords,
    loops: loops.sort(bestLoopFirst),
    sections: byHand?.sections ?? sections.map((section, k) => ({ ...section, purpose: purposes[k]! })),
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
export function harmonyOf(take: Take, split: Split, byHand?: ByHand): Harmony {
  const chroma = chromaOf(take, split);
  const found = findChords(chroma);
  const chords = byHand ? withWritten(take, found, byHand.chords) : found;
  const foundKeys = findKeysOf(chroma, chords);
  return { chroma, chords, foundKeys, keys: keysWith(foundKeys, byHand?.key ?? null) };
}

/** The last bar in which something begins; what begins a little ahead of a bar line belongs to it. */
function lastBar(take: Take): number {
  const { timeline } = take.timing;
  const last = take.notes.tick.reduce((most, tick) => Math.max(most, tick), -1);
  return last < 0
    ? 0
    : Math.max(barsUntil(timeline, last + 1), positionAt(timeline, last + timeline.ppq / 8).bar);
}

function timekeepers(playing: readonly PlayingPart[]): number[] {
  const drums = playing.filter(({ part }) => part.role === 'drums');
  return (drums.length > 0 ? drums : playing.filter(({ part }) => !UNPITCHED.has(part.role))).flatMap(
    ({ notes }) => notes,
  );
}

function loopsOfPart(take: Take, { part, notes }: PlayingPart, lastBar?: number): PartLoop[] {
  return findLoops(take, notes, lastBar)
    .slice(0, LOOPS_A_PART)
    .map((loop) => ({ part: part.id, name: part.name, ...loop, seam: seamOf(take, part, notes, loop) }));
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
