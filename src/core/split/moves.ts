import type { Take } from '../capture/take.ts';
import type { Notes } from '../midi/notes.ts';
import type { Section } from '../music/form.ts';
import { keyName, type Key } from '../music/key.ts';
import { plural } from '../words.ts';
import { correctTake, isCorrection, type Correction } from './corrections.ts';
import { notesIn, type NoteSet } from './note-set.ts';
import type { Role } from './roles.ts';
import { partIndex, type Part, type PitchPair, type Split } from './split.ts';

/**
 * What a person can do to a split. Moves are kept with the take and played again from the first split, so
 * each can be taken back, in any later session. Parts are named by id.
 */
export type Move =
  | { move: 'rename'; part: string; name: string }
  | { move: 'role'; part: string; role: Role }
  /** Channel 0..15 and program 0..127 by which a part sounds and leaves. */
  | { move: 'sound'; part: string; channel: number; program: number }
  /** Whole part, or what starts from `fromTick` to before `toTick`, or the notes named that it has. */
  | { move: 'setAside'; part: string; reason: string; fromTick?: number; toTick?: number; notes?: NoteSet }
  /** Everything that entry of the set-aside list holds goes back to its part. */
  | { move: 'bringBack'; entry: number }
  /** The other parts' notes join the first's. */
  | { move: 'merge'; parts: string[] }
  /** Notes of a part become parts of their own; what no group names stays. `how` says by what they were told apart. */
  | { move: 'divide'; part: string; how: string; into: NewPart[] }
  /** Notes go to a part, from wherever they are. */
  | { move: 'give'; notes: NoteSet; part: string }
  /** Key switches stay with their part, and are not transposed and count for no harmony; or are notes like others. */
  | { move: 'lock'; part: string; notes: NoteSet; on: boolean }
  /** Which pitches sound as which others. None gives the captured ones back. */
  | { move: 'pitchMap'; part: string; pairs: PitchPair[] }
  /** How much a part counts for harmony, 0..1; null by its role. */
  | { move: 'weigh'; part: string; weight: number | null }
  /** A proposal is not wanted, and not made again. */
  | { move: 'refuse'; proposal: string }
  /** Several moves that are done, and taken back, as one. */
  | { move: 'together'; title: string; moves: SingleMove[] }
  /** What the take is called, and the key it is heard in: no note is touched, but they are taken back alike. */
  | { move: 'nameTake'; name: string }
  | { move: 'chooseKey'; key: Key }
  /** What was captured is put right: its bars, or the pitch of some notes. */
  | Correction
  /** The chord of a stretch of time: a symbol, "" for no chord, null for what is found there. */
  | { move: 'chord'; fromTick: number; toTick: number; symbol: string | null }
  /**
   * The steps that phrases of a role are made with, in place of the house's; `steps` is what a recipe file lists. They are
   * read where phrases are made: a split knows nothing of recipes.
   */
  | { move: 'recipe'; role: Role; steps: readonly { step: string }[] }
  /** All sections, in place of those that are found; null gives those back. */
  | { move: 'sections'; sections: Section[] | null }
  /** The music is heard by a newer method, of this version, than the one that said what is in it: no note is touched. */
  | { move: 'hearAnew'; method: number };

export type SingleMove = Exclude<Move, { move: 'together' }>;

/** A part that is made of notes of another. */
export interface NewPart {
  name: string;
  notes: NoteSet;
  role: Role;
  /** Where it is not its origin's. */
  channel?: number;
  program?: number;
}

/** Thrown when a move names what is not there. */
export class MoveError extends Error {
  override readonly name = 'MoveError';
}

/** A take as people have left it from where it stood: its notes as corrected, and its split. @throws MoveError */
export function continueMoves(
  take: Take,
  split: Split,
  moves: readonly Move[],
): { take: Take; split: Split } {
  const state = { take, split: copyOf(split) };
  for (const move of singleMoves(moves)) {
    if (isCorrection(move)) state.take = correctTake(state.take, [move]);
    else apply(state.split, state.take.notes, move);
  }
  return state;
}

/** Moves one by one, in order: those that are done as one taken apart. */
export function singleMoves(moves: readonly Move[]): SingleMove[] {
  return moves.flatMap((move): SingleMove[] => (move.move === 'together' ? move.moves : [move]));
}

/** The corrections among moves, in order. */
export function correctionsOf(moves: readonly Move[]): Correction[] {
  return singleMoves(moves).filter(isCorrection);
}

/** The split after the moves, the given one untouched. @throws MoveError */
export function applyMoves(split: Split, notes: Pick<Notes, 'tick'>, moves: readonly Move[]): Split {
  const result = copyOf(split);
  for (const move of moves) apply(result, notes, move);
  return result;
}

function copyOf(split: Split): Split {
  return {
    ...split,
    parts: split.parts.map((part) => ({ ...part })),
    setAside: [...split.setAside],
    owner: split.owner.slice(),
    locked: split.locked.slice(),
    refused: [...split.refused],
  };
}

function apply(split: Split, notes: Pick<Notes, 'tick'>, move: Move): void {
  switch (move.move) {
    case 'nameTake':
    case 'chooseKey':
    case 'retime':
    case 'asCaptured':
    case 'meter':
    case 'end':
    case 'repitch':
    case 'chord':
    case 'sections':
    case 'recipe':
    case 'hearAnew':
      return;
    case 'rename':
      partOf(split, move.part).name = move.name;
      return;
    case 'role':
      Object.assign(partOf(split, move.part), {
        role: move.role,
        certainty: 1,
        found: false,
        reasons: ['set by hand'],
      } satisfies Partial<Part>);
      return;
    case 'sound':
      Object.assign(partOf(split, move.part), { channel: move.channel, program: move.program });
      return;
    case 'pitchMap':
      partOf(split, move.part).pitchMap = move.pairs;
      return;
    case 'weigh':
      partOf(split, move.part).weight = move.weight;
      return;
    case 'refuse':
      split.refused.push(move.proposal);
      return;
    case 'together':
      for (const one of move.moves) apply(split, notes, one);
      return;
    case 'setAside': {
      const part = requireIndex(split, move.part);
      const entry = split.setAside.push({ reason: move.reason, part }) - 1;
      const from = move.fromTick ?? -Infinity;
      const to = move.toTick ?? Infinity;
      const named = move.notes === undefined ? null : new Set(notesIn(move.notes));
      reassign(
        split,
        part,
        -1 - entry,
        (i) => notes.tick[i]! >= from && notes.tick[i]! < to && (named?.has(i) ?? true),
      );
      return;
    }
    case 'divide': {
      const origin = requireIndex(split, move.part);
      for (const group of move.into) {
        const part = split.parts.push(partTakenOut(split, origin, group, move.how)) - 1;
        for (const i of notesIn(group.notes)) if (split.owner[i] === origin) split.owner[i] = part;
      }
      return;
    }
    case 'give': {
      const part = requireIndex(split, move.part);
      for (const i of notesIn(move.notes)) if (i < split.owner.length) split.owner[i] = part;
      return;
    }
    case 'lock': {
      const part = requireIndex(split, move.part);
      for (const i of notesIn(move.notes)) if (split.owner[i] === part) split.locked[i] = move.on ? 1 : 0;
      return;
    }
    case 'bringBack': {
      const entry = split.setAside[move.entry];
      if (!entry) throw new MoveError(`Nothing is set aside under number ${move.entry + 1}.`);
      reassign(split, -1 - move.entry, entry.part);
      return;
    }
    case 'merge': {
      const [first, ...others] = move.parts.map((id) => requireIndex(split, id));
      if (first === undefined || others.length === 0) throw new MoveError('Merging takes two parts or more.');
      if (new Set(move.parts).size < move.parts.length)
        throw new MoveError('A part cannot be merged with itself.');
      const target = split.parts[first]!;
      for (const other of others) {
        reassign(split, other, first);
        target.from = [...target.from, ...split.parts[other]!.from];
        // What was set aside from a part that is gone goes back to where its notes went.
        split.setAside = split.setAside.map((entry) =>
          entry.part === other ? { ...entry, part: first } : entry,
        );
      }
      return;
    }
    default:
      move satisfies never;
  }
}

function partTakenOut(split: Split, origin: number, group: NewPart, how: string): Part {
  const whole = split.parts[origin]!;
  return {
    ...whole,
    id: `p${split.parts.length + 1}`,
    name: group.name,
    role: group.role,
    channel: group.channel ?? whole.channel,
    program: group.program ?? whole.program,
    runnerUp: whole.role === group.role ? whole.runnerUp : whole.role,
    takenOutOf: whole.id,
    reasons: [`taken out of "${whole.name}" by ${how}`],
  };
}

function reassign(
  split: Split,
  from: number,
  to: number,
  which: (note: number) => boolean = () => true,
): void {
  for (let i = 0; i < split.owner.length; i++) if (split.owner[i] === from && which(i)) split.owner[i] = to;
}

function partOf(split: Split, id: string): Part {
  return split.parts[requireIndex(split, id)]!;
}

function requireIndex(split: Split, id: string): number {
  const index = partIndex(split, id);
  if (index < 0) throw new MoveError(`There is no part ${id}.`);
  return index;
}

/** A move in words, for the history and for what undo will take back. */
export function describeMove(move: Move, split: Split): string {
  const name = (id: string) => split.parts[partIndex(split, id)]?.name ?? id;
  switch (move.move) {
    case 'nameTake':
      return `call the take "${move.name}"`;
    case 'chooseKey':
      return `key ${keyName(move.key)}`;
    case 'rename':
      return `rename to "${move.name}"`;
    case 'role':
      return `${name(move.part)} is ${move.role}`;
    case 'sound':
      return `${name(move.part)} on channel ${move.channel + 1}, program ${move.program + 1}`;
    case 'setAside': {
      const what = move.notes !== undefined ? 'notes of ' : move.fromTick !== undefined ? 'bars of ' : '';
      return `set aside ${what}${name(move.part)}`;
    }
    case 'bringBack': {
      const entry = split.setAside[move.entry];
      return `bring back ${entry ? (split.parts[entry.part]?.name ?? '') : ''}`.trim();
    }
    case 'merge':
      return `merge ${move.parts.map(name).join(', ')}`;
    case 'divide':
      return `${move.into.map((part) => part.name).join(', ')} out of ${name(move.part)} by ${move.how}`;
    case 'give':
      return `${plural(notesIn(move.notes).length, 'note')} to ${name(move.part)}`;
    case 'lock':
      return `${move.on ? 'lock' : 'unlock'} ${plural(notesIn(move.notes).length, 'note')} of ${name(move.part)}`;
    case 'pitchMap':
      return move.pairs.length > 0
        ? `${name(move.part)} sounds by a map of ${plural(move.pairs.length, 'pitch', 'pitches')}`
        : `${name(move.part)} sounds as captured`;
    case 'weigh':
      return move.weight === null
        ? `${name(move.part)} counts for the harmony by its role`
        : `${name(move.part)} counts ${Math.round(100 * move.weight)} % for the harmony`;
    case 'refuse':
      return 'refuse a proposal';
    case 'retime':
      return move.how;
    case 'asCaptured':
      return 'bars as captured';
    case 'end':
      return 'cut the silence at the end';
    case 'meter':
      return `${move.numerator}/${move.denominator}${move.fromTick > 0 ? ' from a bar on' : ''}`;
    case 'repitch':
      return `${plural(notesIn(move.notes).length, 'note')} ${plural(Math.abs(move.by), 'semitone')} ${move.by > 0 ? 'higher' : 'lower'}`;
    case 'chord':
      return move.symbol === null ? 'chord as found' : `chord ${move.symbol || 'N.C.'}`;
    case 'sections':
      return move.sections ? `${plural(move.sections.length, 'section')} by hand` : 'sections as found';
    case 'recipe':
      return `the take's own recipe for ${move.role}`;
    case 'hearAnew':
      return 'hear the music anew';
    case 'together':
      return move.title;
  }
}

/** The name and key that moves have given a take; undefined where none did. */
export function takeFactsOf(moves: readonly Move[]): { name: string | undefined; key: Key | undefined } {
  const singles = singleMoves(moves);
  return {
    name: singles.findLast((move) => move.move === 'nameTake')?.name,
    key: singles.findLast((move) => move.move === 'chooseKey')?.key,
  };
}
