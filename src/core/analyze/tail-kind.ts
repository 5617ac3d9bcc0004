import type { Take } from '../capture/take.ts';
import { UNPITCHED } from '../split/roles.ts';
import { playingParts, type Split } from '../split/split.ts';
import { meantBar } from '../music/timeline.ts';
import { barLikeness, barsOf } from './bars-alike.ts';

/** What bars behind the end of the form are: the beginning once more, a chord that rings, drums that close, or something else. */
type TailKind = 'again' | 'ring' | 'fill' | 'other';

/** The tail is the beginning again where its bars share so much with the first ones. */
const AGAIN = 0.8;

/** A part that rings strikes at most so often a bar, in strokes. */
const FEW = 1.5;

/** Drums that close strike more often than this, however many bars it takes them. */
const RUN = 8;

/** Tells the bars from `firstBar` (from 1) to the last one apart. */
export function tailKind(take: Take, split: Split, firstBar: number, bars: number): TailKind {
  const playing = playingParts(split);
  const all = barsOf(take, playing.flatMap(({ notes }) => notes)); // prettier-ignore
  const count = bars - firstBar + 1;
  const again = Array.from({ length: count }, (_, k) =>
    barLikeness(all[k] ?? EMPTY, all[firstBar - 1 + k] ?? EMPTY),
  );
  if (again.reduce((sum, one) => sum + one, 0) >= AGAIN * count && firstBar > count) return 'again';
  const strokes = (isPitched: boolean) =>
    playing
      .filter(({ part }) => UNPITCHED.has(part.role) !== isPitched)
      .map(({ notes }) => onsetsIn(take, notes, firstBar, bars));
  const pitched = strokes(true).filter((one) => one > 0);
  const drums = strokes(false).reduce((sum, one) => sum + one, 0);
  if (pitched.length > 0 && pitched.every((one) => one <= FEW * count)) return drums > RUN ? 'fill' : 'ring';
  return pitched.length === 0 && drums > 0 ? 'fill' : 'other';
}

const EMPTY = { onsets: new Int32Array(), notes: new Int32Array() };

/** Different onsets of some notes in bars. */
function onsetsIn(
  { timing: { timeline }, notes }: Take,
  indices: readonly number[],
  firstBar: number,
  lastBar: number,
): number {
  const places = new Set<number>();
  for (const i of indices) {
    const tick = notes.tick[i]!;
    const bar = meantBar(timeline, tick);
    if (bar >= firstBar && bar <= lastBar) places.add(Math.round((tick / timeline.ppq) * 4));
  }
  return places.size;
}

const WORDS: Record<TailKind, string> = {
  again: 'They are the beginning again.',
  ring: 'A chord rings out in them: an ending. Keep it as one, or set it aside.',
  fill: 'The drums close in them: an ending. Keep it as one, or set it aside.',
  other: 'They may be an ending: keep them as one, or set them aside.',
};

export function tailWords(kind: TailKind): string {
  return WORDS[kind];
}

/** How sure it is that nobody wants them: an ending is wanted more often than the beginning once more. */
export function tailCertainty(kind: TailKind, isAsked: boolean): number {
  const certainty = isAsked ? 0.85 : 0.6;
  return kind === 'ring' || kind === 'fill' ? certainty - 0.15 : certainty;
}
