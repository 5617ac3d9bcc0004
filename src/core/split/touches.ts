import { singleMoves, type Move, type SingleMove } from './moves.ts';

/**
 * What a move changes: `name` and `sound` of a part or the take, an `offer` that is refused, the `recipe` phrases are made
 * with, what is `said` of the music over what is found, what is `heard` (notes, time, roles, the method that listens).
 */
export type Touch = 'name' | 'sound' | 'offer' | 'recipe' | 'said' | 'heard';

const TOUCHES: Record<SingleMove['move'], Touch> = {
  rename: 'name',
  nameTake: 'name',
  sound: 'sound',
  refuse: 'offer',
  recipe: 'recipe',
  chooseKey: 'said',
  chord: 'said',
  sections: 'said',
  role: 'heard',
  setAside: 'heard',
  bringBack: 'heard',
  merge: 'heard',
  divide: 'heard',
  give: 'heard',
  lock: 'heard',
  pitchMap: 'heard',
  weigh: 'heard',
  retime: 'heard',
  asCaptured: 'heard',
  meter: 'heard',
  end: 'heard',
  repitch: 'heard',
  hearAnew: 'heard',
};

export function touchOf({ move }: SingleMove): Touch {
  return TOUCHES[move];
}

/** Whether anything of these is changed by a move. */
export function touches(move: Move, what: ReadonlySet<Touch>): boolean {
  return singleMoves([move]).some((one) => what.has(touchOf(one)));
}

/** Whether a move changes nothing but these. */
export function touchesOnly(move: Move, what: ReadonlySet<Touch>): boolean {
  return singleMoves([move]).every((one) => what.has(touchOf(one)));
}

/** Those that change what is heard: what is found in the music depends on them alone. */
export function heardMoves(moves: readonly Move[]): SingleMove[] {
  return singleMoves(moves).filter((move) => touchOf(move) === 'heard');
}
