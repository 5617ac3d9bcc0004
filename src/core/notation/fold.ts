import type { Line, Repeat, Score } from './musicxml.ts';
import type { Sign } from './reading-rhythm.ts';

/** Fewer bars than this are sooner read than gone back to. */
const FEWEST = 4;

/** A score with what is played several times on end written once, between signs of repeat. */
export function folded(score: Score): Score {
  const { keep, repeats } = foldedBars(
    score.heads.map((_, n) => toldOf(score, n)),
    (n) => !isTiedInto(score, n),
  );
  if (repeats.length === 0) return score;
  const of = <Item>(list: readonly Item[]) => keep.map((n) => list[n]!);
  const shorter = <Some extends Line>(line: Some): Some => ({
    ...line,
    bars: of(line.bars),
    ...(line.lowerVoice ? { lowerVoice: of(line.lowerVoice) } : {}),
  });
  return {
    ...score,
    repeats,
    heads: of(score.heads),
    harmony: of(score.harmony),
    staves: score.staves.map((staff) => ({
      ...shorter(staff),
      ...(staff.lower ? { lower: shorter(staff.lower) } : {}),
      ...(staff.words ? { words: of(staff.words) } : {}),
    })),
  };
}

/**
 * Which of some bars are written, from 0, and which stretches of those are repeated: of stretches that come several times on end the
 * longest first, from the left. `canBegin` says which bars can be gone back to.
 */
export function foldedBars(
  told: readonly string[],
  canBegin: (bar: number) => boolean = () => true,
): { keep: number[]; repeats: Repeat[] } {
  const keep: number[] = [];
  const repeats: Repeat[] = [];
  let at = 0;
  while (at < told.length) {
    const found = canBegin(at) ? repeatAt(told, at) : null;
    const bars = found?.bars ?? 1;
    if (found) repeats.push({ from: keep.length, ...found });
    for (let k = 0; k < bars; k++) keep.push(at + k);
    at += bars * (found?.times ?? 1);
  }
  return { keep, repeats };
}

/** The shortest stretch that says all that is repeated from a bar on; null where nothing is. */
function repeatAt(told: readonly string[], at: number): { bars: number; times: number } | null {
  let best: { bars: number; times: number } | null = null;
  for (let bars = FEWEST; at + 2 * bars <= told.length; bars++) {
    let same = 0;
    while (at + bars + same < told.length && told[at + same] === told[at + bars + same]) same++;
    const times = 1 + Math.floor(same / bars);
    if (times > 1 && (!best || bars * times > best.bars * best.times)) best = { bars, times };
  }
  return best;
}

/** The voices of a bar, on all staves. */
function voicesIn({ staves }: Score, n: number): (readonly Sign[])[] {
  const lines = staves.flatMap((staff): Line[] => (staff.lower ? [staff, staff.lower] : [staff]));
  return lines.flatMap((line) => [line.bars[n]!, line.lowerVoice?.[n] ?? []]);
}

/** A bar that begins with what was tied to it from the one before is nothing to go back to. */
function isTiedInto(score: Score, n: number): boolean {
  return voicesIn(score, n).some(([first]) => first?.tiedFrom);
}

/** All that is written of a bar. */
function toldOf(score: Score, n: number): string {
  const { heads, harmony, staves } = score;
  const voices = voicesIn(score, n);
  const words = staves.map(({ words: of }) => [...(of?.[n] ?? [])]);
  return JSON.stringify([heads[n], harmony[n]!.map(({ at, symbol }) => [at, symbol]), voices, words]);
}
