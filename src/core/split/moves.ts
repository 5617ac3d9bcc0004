import type { Notes } from '../midi/notes.ts';
import { keyName, type Key } from '../music/key.ts';
import type { Role } from './roles.ts';
import { partIndex, type Part, type Split } from './split.ts';

/**
 * What a person can do to a split. Moves are kept with the take and played again from the first split, so
 * each can be taken back, in any later session. Parts are named by id.
 */
export type Move =
  | { move: 'rename'; part: string; name: string }
  | { move: 'role'; part: string; role: Role }
  /** Whole part, or what starts from `fromTick` to before `toTick`. */
  | { move: 'setAside'; part: string; reason: string; fromTick?: number; toTick?: number }
  /** Everything that entry of the set-aside list holds goes back to its part. */
  | { move: 'bringBack'; entry: number }
  /** The other parts' notes join the first's. */
  | { move: 'merge'; parts: string[] }
  /** What the take is called, and the key it is heard in: no note is touched, but they are taken back alike. */
  | { move: 'nameTake'; name: string }
  | { move: 'chooseKey'; key: Key };

/** Thrown when a move names what is not there. */
export class MoveError extends Error {
  override readonly name = 'MoveError';
}

/** The split after the moves, the given one untouched. @throws MoveError */
export function applyMoves(split: Split, notes: Pick<Notes, 'tick'>, moves: readonly Move[]): Split {
  const result: Split = {
    ...split,
    parts: split.parts.map((part) => ({ ...part })),
    setAside: [...split.setAside],
    owner: split.owner.slice(),
  };
  for (const move of moves) apply(result, notes, move);
  return result;
}

function apply(split: Split, notes: Pick<Notes, 'tick'>, move: Move): void {
  switch (move.move) {
    case 'nameTake':
    case 'chooseKey':
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
    case 'setAside': {
      const part = requireIndex(split, move.part);
      const entry = split.setAside.push({ reason: move.reason, part }) - 1;
      const from = move.fromTick ?? -Infinity;
      const to = move.toTick ?? Infinity;
      reassign(split, part, -1 - entry, (i) => notes.tick[i]! >= from && notes.tick[i]! < to);
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
    }
  }
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
    case 'setAside':
      return `set aside ${move.fromTick === undefined ? '' : 'bars of '}${name(move.part)}`;
    case 'bringBack': {
      const entry = split.setAside[move.entry];
      return `bring back ${entry ? (split.parts[entry.part]?.name ?? '') : ''}`.trim();
    }
    case 'merge':
      return `merge ${move.parts.map(name).join(', ')}`;
  }
}

/** The name and key that moves have given a take; undefined where none did. */
export function takeFactsOf(moves: readonly Move[]): { name: string | undefined; key: Key | undefined } {
  return {
    name: moves.findLast((move) => move.move === 'nameTake')?.name,
    key: moves.findLast((move) => move.move === 'chooseKey')?.key,
  };
}
