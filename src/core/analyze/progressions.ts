/** How often something is, the most often first. */
export interface Counted {
  what: string;
  count: number;
}

/** What progressions begin with, end with, and go through. */
export interface Progressions {
  starts: Counted[];
  ends: Counted[];
  /** Two numerals one after the other, "V7 I". A line that goes through one twice counts once: it is one phrase. */
  moves: Counted[];
}

/** Counts lines of numerals (" I V7 vi "), each as often as it is there. */
export function countProgressions(lines: readonly { numerals: string; count: number }[]): Progressions {
  const [starts, ends, moves] = [
    new Map<string, number>(),
    new Map<string, number>(),
    new Map<string, number>(),
  ];
  const add = (counts: Map<string, number>, what: string, count: number) =>
    counts.set(what, (counts.get(what) ?? 0) + count);
  for (const { numerals, count } of lines) {
    const chords = numerals.trim().split(/\s+/).filter(Boolean);
    if (chords.length === 0) continue;
    add(starts, chords[0]!, count);
    add(ends, chords.at(-1)!, count);
    const within = new Set(chords.slice(1).map((chord, k) => `${chords[k]} ${chord}`));
    for (const move of within) add(moves, move, count);
  }
  return { starts: sorted(starts), ends: sorted(ends), moves: sorted(moves) };
}

/** How often some lines go from one numeral to the next ("V7 I"). */
export function countedMoves(lines: readonly { numerals: string; count: number }[]): Map<string, number> {
  return new Map(countProgressions(lines).moves.map(({ what, count }) => [what, count]));
}

function sorted(counts: ReadonlyMap<string, number>): Counted[] {
  return [...counts]
    .map(([what, count]) => ({ what, count }))
    .sort((a, b) => b.count - a.count || a.what.localeCompare(b.what));
}
