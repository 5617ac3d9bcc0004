import type { Key } from '../music/key.ts';
import { keyOfWord, stateCode, type Catalog } from './catalog.ts';

/** The harmony of all that is kept, counted by sheaf: what a page of graphs is drawn from. */
export interface LibraryHarmony {
  /** Different lines of numerals (" I V7 vi "), and how many sheaves and phrases of their own have each. */
  lines: { numerals: string; count: number }[];
  keys: (Key & { count: number })[];
  /** Lower ends of bands of ten BPM. */
  tempos: { bpm: number; count: number }[];
}

/** Counts the harmony of the kept phrases. The parts of a sheaf sound under one progression: it counts once. */
export function harmonyOfLibrary(catalog: Catalog): LibraryHarmony {
  const { dictionaries } = catalog;
  const [lines, keys, tempos] = (['numerals', 'keys', 'tempos'] as const).map((facet) =>
    countedBySheaf(catalog, catalog.coded[facet]),
  );
  return {
    lines: [...lines!].map(([code, count]) => ({ numerals: dictionaries.numerals.words[code]!, count })),
    keys: [...keys!].map(([code, count]) => ({ ...keyOfWord(dictionaries.keys.words[code]!)!, count })),
    tempos: [...tempos!]
      .map(([code, count]) => ({ bpm: Number(dictionaries.tempos.words[code]), count }))
      .sort((a, b) => a.bpm - b.bpm),
  };
}

/** By code, in how many sheaves and single phrases it is. */
function countedBySheaf(catalog: Catalog, column: Uint32Array): Map<number, number> {
  const kept = stateCode('kept');
  const counts = new Map<number, number>();
  const seen = new Set<number>();
  for (let at = 0; at < catalog.size; at++) {
    const code = column[at]!;
    if (code === 0 || catalog.states[at] !== kept) continue;
    const sheaf = catalog.sheaves[at]!;
    const once = code * MOST_SHEAVES + sheaf;
    if (sheaf > 0 && seen.has(once)) continue;
    if (sheaf > 0) seen.add(once);
    counts.set(code, (counts.get(code) ?? 0) + 1);
  }
  return counts;
}

/** More than any library has: two codes are told apart in one number. */
const MOST_SHEAVES = 2 ** 26;
