import type { Take } from '../capture/take.ts';
import type { PlayingPart } from '../split/split.ts';
import { findLoops, type LoopFinding } from './loops.ts';
import { seamOf, type Seam } from './seam.ts';

/** A stretch of a part that comes again, and what happens where it goes back to its beginning. */
export interface PartLoop extends LoopFinding {
  /** Id and name of the part. */
  part: string;
  name: string;
  seam: Seam;
}

/** Loops of one part that are told, at most. */
const LOOPS_A_PART = 6;

/** The loops of a part up to a bar, best first. */
export function loopsOfPart(take: Take, { part, notes }: PlayingPart, lastBar?: number): PartLoop[] {
  return findLoops(take, notes, lastBar)
    .slice(0, LOOPS_A_PART)
    .map((loop) => ({ part: part.id, name: part.name, ...loop, seam: seamOf(take, part, notes, loop) }));
}
