import { MODES, parseKey, type Key } from '../music/key.ts';
import { METERS } from '../music/meters.ts';

/** A word of a search that says something of the music. */
export type Mark =
  | { kind: 'key'; key: Key }
  | { kind: 'tempo'; from: number; to: number }
  | { kind: 'meter'; meter: string }
  | { kind: 'bars'; bars: number }
  | { kind: 'swing' }
  | { kind: 'changes'; numerals: string };

export interface Understood {
  /** What was understood, with the words of the search that say it. */
  marks: { mark: Mark; words: string }[];
  /** All others, in lower case: each has to be found. */
  words: string[];
}

/** A tempo that is said as one number is meant within this, in BPM: files round it. */
const ABOUT = 0.5;

/** Tempos anybody means by a bare number (common practice). */
const TEMPOS = { slowest: 30, fastest: 300 };

const NUMERAL = /^[b#]?(?:VII|VI|V|IV|III|II|I|vii|vi|v|iv|iii|ii|i)(?:°7?|ø7?|\+|maj7|maj9|sus[24]|[679])?$/;

/**
 * What a search says: "Em", "96", "90-110", "3/4", "8 bars", "swing" and numerals one after the other are understood; a word in
 * quotes is always a word.
 */
export function understood(search: string): Understood {
  const tokens = search.match(/"[^"]*"?|\S+/g) ?? [];
  const found: Understood = { marks: [], words: [] };
  for (let at = 0; at < tokens.length;) {
    const { mark, length } = markAt(tokens, at) ?? { mark: null, length: 1 };
    const words = tokens.slice(at, at + length).join(' ');
    if (mark) found.marks.push({ mark, words });
    else found.words.push(...plain(words));
    at += length;
  }
  return found;
}

function plain(word: string): string[] {
  return word.replaceAll('"', '').toLowerCase().split(/\s+/).filter(Boolean);
}

function markAt(tokens: readonly string[], at: number): { mark: Mark; length: number } | null {
  const [word, next] = [tokens[at]!, tokens[at + 1]];
  if (/^\d{1,3}$/.test(word) && /^bars?$/i.test(next ?? '') && Number(word) > 0)
    return { mark: { kind: 'bars', bars: Number(word) }, length: 2 };
  const run = tokens.slice(at).findIndex((token) => !NUMERAL.test(token));
  const length = run < 0 ? tokens.length - at : run;
  // One alone is a word: "I" is in many names.
  if (length >= 2)
    return { mark: { kind: 'changes', numerals: tokens.slice(at, at + length).join(' ') }, length };
  const mark = markOf(word, next);
  return mark ? { mark: mark.mark, length: mark.length } : null;
}

function markOf(word: string, next: string | undefined): { mark: Mark; length: number } | null {
  if ((METERS as readonly string[]).includes(word))
    return { mark: { kind: 'meter', meter: word }, length: 1 };
  if (/^swing$/i.test(word)) return { mark: { kind: 'swing' }, length: 1 };
  const [, low, high] = /^(\d{2,3}(?:\.\d+)?)(?:[-–](\d{2,3}(?:\.\d+)?))?$/.exec(word) ?? [];
  if (low !== undefined) {
    const [from, to] = [Number(low), Number(high ?? low)].sort((a, b) => a - b) as [number, number];
    if (from < TEMPOS.slowest || to > TEMPOS.fastest) return null;
    const about = high === undefined ? ABOUT : 0;
    return {
      mark: { kind: 'tempo', from: from - about, to: to + about },
      length: /^bpm$/i.test(next ?? '') ? 2 : 1,
    };
  }
  // "E minor" are two words; "A" alone is one of a name.
  const two = next !== undefined && MODE.test(next) && /^[A-Ga-g][#b]?$/.test(word);
  const key = two ? parseKey(`${word} ${next}`) : shortKey(word);
  return key ? { mark: { kind: 'key', key }, length: two ? 2 : 1 } : null;
}

const MODE = new RegExp(`^(${MODES.join('|')})$`, 'i');

/** "Em", "Bb", "F#m", as musicians write keys; a letter alone is a word. */
function shortKey(word: string): Key | undefined {
  return /^[A-G](?:[#b]m?|m)$/.test(word) ? parseKey(word) : undefined;
}
