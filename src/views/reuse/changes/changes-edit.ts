import { lineChord, type LineChord } from '../../../core/harmonize/line.ts';
import { HELD, type Playing, type Strum } from '../../../core/harmonize/made-clips.ts';
import { isRhythm } from '../../../core/music/rhythm.ts';

/** Changes that are being written: all of it under one history. */
export interface ChangesEdit {
  /** As it is written. */
  key: string;
  line: readonly LineChord[];
  /** What the rhythm is called, and its steps; empty for one held stroke a chord. */
  rhythm: { name: string; steps: string; perBeat: number; beats: number };
  strum: Strum;
  /** From the first note of a stroke to its last, in milliseconds. */
  spread: number;
}

export const HELD_RHYTHM: ChangesEdit['rhythm'] = { name: 'one a chord', steps: '', perBeat: 4, beats: 4 };

/** Spreads of a strummed chord that can be chosen, in milliseconds; 15 to 40 are usual (common practice). */
export const SPREADS = { least: 5, most: 60, usual: 25 };

export function playingOf({ rhythm, strum, spread }: ChangesEdit): Playing {
  const { steps, perBeat, beats } = rhythm;
  return {
    ...HELD,
    ...(isRhythm(steps) ? { rhythm: { steps, perBeat }, rhythmBeats: beats } : {}),
    strum,
    spread,
  };
}

/** Where a chord of the tray goes. */
export const PUTS = ['after', 'instead', 'heard'] as const;
export type Put = (typeof PUTS)[number];

export const PUT_TITLES: Readonly<Record<Put, string>> = {
  after: 'after the chosen one',
  instead: 'in its place',
  heard: 'only heard',
};

/** The line with a chord put after, or in the place of, the one that is chosen; and which is chosen then. */
export function putInto(
  line: readonly LineChord[],
  at: number,
  symbol: string,
  { how, beats }: { how: Put; beats: number },
): { line: LineChord[]; at: number } {
  if (how === 'heard') return { line: [...line], at };
  const chosen = line[at];
  if (how === 'instead' && chosen)
    return { line: line.with(at, { ...lineChord(symbol, chosen.beats), octave: chosen.octave }), at };
  const next = line.length === 0 ? 0 : at + 1;
  return { line: line.toSpliced(next, 0, lineChord(symbol, beats)), at: next };
}

/** Beats of the line before each of its chords, and in all. */
export function beginnings(line: readonly LineChord[]): { from: number[]; beats: number } {
  let beats = 0;
  const from = line.map((one) => {
    beats += one.beats;
    return beats - one.beats;
  });
  return { from, beats };
}
