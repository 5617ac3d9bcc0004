import type { Take } from '../capture/take.ts';
import { chordNumeral, chordSymbol } from '../music/chord.ts';
import type { Key } from '../music/key.ts';
import { barStart, beatTicks, meterAt } from '../music/timeline.ts';
import type { ChordFinding } from './chords.ts';

/** A chord of some changes: beats from their first bar line, and its name. */
export interface ChangesChord {
  beat: number;
  beats: number;
  /** As it is spelled in the key; empty where no chord sounds. */
  symbol: string;
  numeral: string;
}

/** The chords of some bars (from 1), cut at their edges, one that is held as one. */
export function changesIn(
  { timing: { timeline } }: Take,
  chords: readonly ChordFinding[],
  key: Key,
  { startBar, bars }: { startBar: number; bars: number },
): ChangesChord[] {
  const [from, to] = [barStart(timeline, startBar), barStart(timeline, startBar + bars)];
  const beat = beatTicks(timeline.ppq, meterAt(timeline, from));
  const within: ChangesChord[] = [];
  for (const { startTick, endTick, chord } of chords) {
    const [start, end] = [Math.max(from, startTick), Math.min(to, endTick)];
    if (end <= start) continue;
    const symbol = chord ? chordSymbol(chord, key) : '';
    const last = within.at(-1);
    const beats = (end - start) / beat;
    if (last?.symbol === symbol) last.beats += beats;
    else
      within.push({
        beat: (start - from) / beat,
        beats,
        symbol,
        numeral: chord ? chordNumeral(chord, key) : '',
      });
  }
  return within;
}

/** The numerals of some changes as a line to search in, a space before and after each: " I V7 vi ". */
export function numeralLine(changes: readonly ChangesChord[]): string {
  const named = changes
    .map(({ numeral }) => numeral)
    .filter((numeral, k, all) => numeral && numeral !== all[k - 1]);
  return named.length > 0 ? ` ${named.join(' ')} ` : '';
}
