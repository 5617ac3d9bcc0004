import { singleMoves, type Move, type SingleMove } from './moves.ts';

/**
 * What a move changes: `name` and `sound` of a part or the take, an `offer` that is refused, the `recipe` phrases are made
 * with, what is `said` of the music over what is found; and, of what is heard, the `take` itself (its time, its pitches), the
 * `parts` (whose notes are whose, roles, what counts) or the `method` that listens.
 */
export type Touch = 'name' | 'sound' | 'offer' | 'recipe' | 'said' | 'take' | 'parts' | 'method';

const TOUCHES: Record<SingleMove['move'], Touch> = {
  rename: 'name',
  nameTake: 'name',
  sound: 'sound',
  refuse: 'offer',
  recipe: 'recipe',
  chooseKey: 'said',
  chord: 'said',
  sections: 'said',
  retime: 'take',
  asCaptured: 'take',
  meter: 'take',
  end: 'take',
  repitch: 'take',
  role: 'parts',
  setAside: 'parts',
  bringBack: 'parts',
  merge: 'parts',
  divide: 'parts',
  give: 'parts',
  lock: 'parts',
  pitchMap: 'parts',
  weigh: 'parts',
  hearAnew: 'method',
};

/** What the harmony of a take depends on. */
export const OF_HARMONY: readonly Touch[] = ['take', 'parts', 'method', 'said'];

const HEARD: ReadonlySet<Touch> = new Set<Touch>(['take', 'parts', 'method']);

export function touchOf({ move }: SingleMove): Touch {
  return TOUCHES[move];
}

/** What a move changes, or several that are done as one. */
export function touchedBy(move: Move): Set<Touch> {
  return new Set(singleMoves([move]).map(touchOf));
}

/** Whether a move changes nothing but these. */
export function touchesOnly(move: Move, what: ReadonlySet<Touch>): boolean {
  return singleMoves([move]).every((one) => what.has(touchOf(one)));
}

/** Those that change what is heard: what is found in the music depends on them alone. */
export function heardMoves(moves: readonly Move[]): SingleMove[] {
  return singleMoves(moves).filter((move) => HEARD.has(touchOf(move)));
}
