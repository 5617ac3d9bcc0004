import type { Take } from '../../src/core/capture/take.ts';
import { continueMoves, type Move } from '../../src/core/split/moves.ts';
import { splitTake } from '../../src/core/split/split.ts';

/** A take as moves have left it, from its split as it is found today. */
export const replayMoves = (original: Take, moves: readonly Move[]) =>
  continueMoves(original, splitTake(original), moves);
