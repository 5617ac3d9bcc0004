import type { Key } from '../music/key.ts';
import { lineChord, type LineChord } from './line.ts';
import { trayOf } from './tray.ts';

/** A line of chords the library has, in some key, a bar a chord. */
export interface OwnLine {
  numerals: string[];
  count: number;
  line: LineChord[];
}

/**
 * The library's own lines of numerals (" I V7 vi ") in a key, the most used first; those with a chord that the key's tray has not
 * are left out.
 */
export function ownLines(
  lines: readonly { numerals: string; count: number }[],
  key: Key,
  beatsPerBar: number,
): OwnLine[] {
  const symbols = new Map(trayOf(key).map(({ numeral, symbol }) => [numeral, symbol]));
  return lines
    .map(({ numerals, count }) => ({ numerals: numerals.split(' ').filter(Boolean), count }))
    .filter(({ numerals }) => numerals.length > 1 && numerals.every((one) => symbols.has(one)))
    .sort((a, b) => b.count - a.count || a.numerals.length - b.numerals.length)
    .map((one) => ({
      ...one,
      line: one.numerals.map((numeral) => lineChord(symbols.get(numeral)!, beatsPerBar)),
    }));
}
