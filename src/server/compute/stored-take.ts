import { LRUCache } from 'lru-cache';
import type { KeptReading } from '../../core/analyze/reading.ts';
import { readTakes, type Take } from '../../core/capture/take.ts';
import { NotMidiError } from '../../core/midi/smf.ts';
import { baseOf, splitOf, type Base } from '../../core/split/base.ts';
import type { Move } from '../../core/split/moves.ts';
import type { Role } from '../../core/split/roles.ts';
import { splitTake } from '../../core/split/split.ts';
import { afterMove, openTake, type OpenedTake } from '../../core/take/opened.ts';
import { LibraryError } from '../library/errors.ts';

/** Which take of which file, and the file's bytes. */
export interface StoredOriginal {
  sha256: string;
  pattern: number;
  bytes: Uint8Array;
}

/** A take as the library keeps it: all that a thread needs to open it. */
export interface StoredTake extends StoredOriginal {
  takeId: string;
  /** Of its moves; the same revision is the same take. */
  revision: number;
  /** What its moves stand on. */
  base: Base;
  /** Those that are done. */
  moves: readonly Move[];
  /** What it was told by older methods. */
  kept: readonly KeptReading[];
}

/** Notes and events that a thread keeps at hand, of originals and of opened takes each: some tens of megabytes. */
const KEPT = 400_000;

/** A take costs at least as much as so many. */
const LEAST = 500;

function sizeOf({ notes, file }: Take): number {
  return LEAST + notes.length + file.tracks.reduce((sum, events) => sum + events.length, 0);
}

const originals = new LRUCache<string, Take>({
  maxSize: KEPT,
  sizeCalculation: sizeOf,
});

const opened = new LRUCache<string, OpenedTake>({
  maxSize: KEPT,
  sizeCalculation: ({ take }) => sizeOf(take),
});

/** A take as it was captured. @throws LibraryError 404 where its file holds no such take */
export function originalOf({ sha256, pattern, bytes }: StoredOriginal): Take {
  const key = `${sha256} ${pattern}`;
  const known = originals.get(key);
  if (known) return known;
  const take = read(bytes)[pattern];
  if (!take) throw new LibraryError(404, 'The file of this take holds no such pattern.');
  originals.set(key, take);
  return take;
}

function read(bytes: Uint8Array): Take[] {
  try {
    return readTakes(bytes);
  } catch (error) {
    if (error instanceof NotMidiError) throw new LibraryError(422, error.message);
    throw error;
  }
}

const keyOf = (takeId: string, revision: number) => `${takeId} ${revision}`;

/** Of libraries that kept no first splits. */
const OLDER_METHOD = 0;

/** A base for a take of a library that kept none: as it is found now, with the roles that it was told it has. */
export function baseFor(
  original: StoredOriginal,
  told: readonly { key: string; role: Role; certainty: number }[],
): Base {
  const base = baseOf(splitTake(originalOf(original)));
  const known = new Map(told.map(({ key, role, certainty }) => [key, { role, certainty }]));
  // What was told before is offered as it is heard today, like a take of an older method.
  const method = base.parts.every(({ id, role }) => (known.get(id)?.role ?? role) === role)
    ? base.method
    : OLDER_METHOD;
  return { ...base, method, parts: base.parts.map((part) => ({ ...part, ...known.get(part.id) })) };
}

/** A take with its moves done. @throws MoveError */
export function openStored(stored: StoredTake): OpenedTake {
  const key = keyOf(stored.takeId, stored.revision);
  const known = opened.get(key);
  if (known) return known;
  const take = openTake(originalOf(stored), splitOf(stored.base), stored.moves, stored.kept);
  opened.set(key, take);
  return take;
}

/** The take with other moves done, as its next revision: one move more costs that move alone. @throws MoveError */
export function openNext(stored: StoredTake, moves: readonly Move[]): OpenedTake {
  const isOneMore =
    moves.length === stored.moves.length + 1 &&
    JSON.stringify(moves.slice(0, -1)) === JSON.stringify(stored.moves);
  const next = isOneMore
    ? afterMove(openStored(stored), moves.at(-1)!)
    : openTake(originalOf(stored), splitOf(stored.base), moves, stored.kept);
  opened.set(keyOf(stored.takeId, stored.revision + 1), next);
  return next;
}
