import { splitOf } from '../../core/split/base.ts';
import { habitMove, habitsIn as habitsInMoves, type Habit } from '../../core/split/habits.ts';
import { MoveError, type Move } from '../../core/split/moves.ts';
import { originalOf, type StoredTake } from './stored-take.ts';

/** The habits in what was done to a take. */
export function habitsIn(stored: StoredTake): Habit[] {
  try {
    return habitsInMoves(originalOf(stored), splitOf(stored.base), stored.moves);
  } catch (error) {
    // What a better method finds today may not have the part that was moved then.
    if (error instanceof MoveError) return [];
    throw error;
  }
}

/** What a take could be spared, as one move; null where there is nothing to do. */
export function habitMoveFor(stored: StoredTake, habits: readonly Habit[], title: string): Move | null {
  return habitMove(originalOf(stored), splitOf(stored.base), stored.moves, habits, title);
}
