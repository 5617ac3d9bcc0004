import type { Take } from '../capture/take.ts';
import { barStart, barsUntil, meterAt, tempoAt, bpmOf, positionAt } from '../music/timeline.ts';
import { UNPITCHED } from '../split/roles.ts';
import { playingParts, type Split } from '../split/split.ts';
import { findChords, type ChordFinding } from './chords.ts';
import { chromaOf } from './chroma.ts';
import { findFeel, type Feel } from './feel.ts';
import { findKeysOf } from './find-key.ts';
import type { KeyFinding } from './key.ts';
import { findLoops, type LoopFinding } from './loops.ts';
import { findSections, type Section } from './sections.ts';

/** What a take says of itself. */
export interface Analysis {
  /** BPM at the beginning, as the file says or as is assumed. */
  bpm: number;
  meter: { numerator: number; denominator: number };
  /** Silence before the first note, in ticks; 0 where a pickup begins. */
  leadingTicks: number;
  /** Length of what leads into the first strong bar, in ticks. */
  pickupTicks: number;
  /** Bars in which something begins. */
  bars: number;
  /** Likeliest first; empty where nothing is pitched. */
  keys: KeyFinding[];
  chords: ChordFinding[];
  /** By part, those without a loop left out. */
  loops: ({ part: string } & LoopFinding)[];
  sections: Section[];
  feel: Feel;
}

/** Analyzes a take as it is split. */
export function analyzeTake(take: Take, split: Split): Analysis {
  const { timeline } = take.timing;
  const chroma = chromaOf(take, split);
  const chords = findChords(chroma);
  const meter = meterAt(timeline, 0);
  const playing = playingParts(split);
  const timekeepers = playing.filter(({ part }) => part.role === 'drums');
  const loops = playing
    .flatMap(({ part, notes }) =>
      findLoops(take, notes)
        .slice(0, 1)
        .map((loop) => ({ part: part.name, ...loop })),
    )
    .sort((a, b) => b.likeness - a.likeness || b.repeats - a.repeats);
  return {
    bpm: bpmOf(tempoAt(timeline, 0).microseconds),
    meter: { numerator: meter.numerator, denominator: meter.denominator },
    ...beginning(
      take,
      playing.flatMap(({ notes }) => notes),
    ),
    bars: barsUntil(timeline, take.notes.tick.reduce((last, tick) => Math.max(last, tick), -1) + 1),
    keys: findKeysOf(chroma, chords),
    chords,
    loops,
    sections: findSections(take, split),
    feel: findFeel(
      take,
      (timekeepers.length > 0
        ? timekeepers
        : playing.filter(({ part }) => !UNPITCHED.has(part.role))
      ).flatMap(({ notes }) => notes),
    ),
  };
}

/** What is played this little ahead of a bar line is not a pickup but a hand, in quarter notes. */
const EARLY = 1 / 8;

/**
 * Where the music begins: silence before the first note, or a pickup, which is less than half a bar of few notes that
 * lead into a bar line on which more begin.
 */
function beginning(take: Take, indices: readonly number[]): Pick<Analysis, 'leadingTicks' | 'pickupTicks'> {
  const { timeline } = take.timing;
  const { notes } = take;
  if (indices.length === 0) return { leadingTicks: 0, pickupTicks: 0 };
  const first = indices.reduce((least, i) => Math.min(least, notes.tick[i]!), Infinity);
  const early = EARLY * timeline.ppq;
  const { bar } = positionAt(timeline, first + early);
  const line = barStart(timeline, bar + 1);
  const length = line - barStart(timeline, bar);
  const before = indices.filter((i) => notes.tick[i]! < line - early);
  const onLine = indices.filter((i) => Math.abs(notes.tick[i]! - line) <= early);
  const leads = first > barStart(timeline, bar) + length / 2 - early && onLine.length > 0;
  if (leads && before.length <= 3 * onLine.length + 4) {
    return { leadingTicks: Math.max(0, barStart(timeline, bar)), pickupTicks: line - first };
  }
  return { leadingTicks: first <= early ? 0 : first, pickupTicks: 0 };
}
