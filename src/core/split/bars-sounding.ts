import type { Take } from '../capture/take.ts';
import { barsUntil } from '../music/timeline.ts';
import { playingParts, type Split } from './split.ts';

/** Bars of a take until the last note that begins and is not set aside. */
export function barsSounding(take: Take, split: Split): number {
  const last = playingParts(split).flatMap(({ notes }) => notes.slice(-1).map((i) => take.notes.tick[i]!));
  return barsUntil(take.timing.timeline, Math.max(0, ...last) + 1);
}
