import { singleMoves, type Move, type SingleMove } from './moves.ts';

/** What a move reaches: names of things, a slash after each level; what begins with another is within it. Null is everything. */
interface Reach {
  things: string[];
  /** Of a chord that was said: a stretch of time in ticks. */
  chord?: { from: number; to: number };
}

/**
 * Whether two moves touch different things, so that both can be done in either order and nothing of either is lost. On the safe side: what
 * could reach anything (notes by themselves, time, pitches, the method) is independent of nothing.
 */
export function areIndependent(one: Move, other: Move): boolean {
  return singleMoves([one]).every((a) => singleMoves([other]).every((b) => singlesIndependent(a, b)));
}

function singlesIndependent(one: SingleMove, other: SingleMove): boolean {
  const [a, b] = [reachOf(one), reachOf(other)];
  if (!a || !b) return false;
  if (a.chord && b.chord) return a.chord.to <= b.chord.from || b.chord.to <= a.chord.from;
  return !a.things.some((thing) => b.things.some((same) => thing.startsWith(same) || same.startsWith(thing)));
}

function reachOf(move: SingleMove): Reach | null {
  switch (move.move) {
    case 'rename':
      return { things: [`part ${move.part}/name/`] };
    case 'sound':
      return { things: [`part ${move.part}/sound/`] };
    case 'weigh':
      return { things: [`part ${move.part}/weight/`] };
    case 'role':
      return { things: [`part ${move.part}/role/`] };
    case 'pitchMap':
    case 'lock':
      return { things: [`part ${move.part}/`] };
    case 'setAside':
      return { things: [`part ${move.part}/`] };
    case 'merge':
      return { things: move.parts.map((part) => `part ${part}/`) };
    case 'divide':
      // Two who divide give their new parts the same names.
      return { things: [`part ${move.part}/`, 'new parts/'] };
    case 'refuse':
      return { things: [`proposal ${move.proposal}/`] };
    case 'nameTake':
      return { things: ['name of the take/'] };
    case 'chooseKey':
      return { things: ['key/'] };
    case 'sections':
      return { things: ['sections/'] };
    case 'recipe':
      return { things: [`recipe of ${move.role}/`] };
    case 'chord':
      return { things: ['chords/'], chord: { from: move.fromTick, to: move.toTick } };
    default:
      return null;
  }
}
