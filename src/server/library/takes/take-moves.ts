import { setTimeout as delay } from 'node:timers/promises';
import { and, eq, isNull } from 'drizzle-orm';
import { areIndependent } from '../../../core/split/independent.ts';
import { singleMoves, type Move } from '../../../core/split/moves.ts';
import { OF_HARMONY, touchOf } from '../../../core/split/touches.ts';
import type { MovedTake } from '../../compute/moved-take.ts';
import { compute } from '../../compute/pool.ts';
import type { Db } from '../../db/client.ts';
import { phraseContents, phraseMarks, phrases, takes, type DroppedMoves } from '../../db/schema.ts';
import { LibraryError } from '../errors.ts';
import { withContent } from '../phrases/phrase-rows.ts';
import { storedTake, takeDetail, writeParts, type TakeDetail, type TakeRow } from './takes.ts';

/** What a change makes of a take's moves. */
type Moved = Pick<TakeRow, 'moves' | 'movesDone'> & Partial<Pick<TakeRow, 'dropped'>>;

/** A change: what it makes of a take, and where it is one more move, which. */
interface Change {
  then: (row: TakeRow) => Moved;
  move?: Move;
}

/** Histories that were dropped by going on elsewhere, at most. */
const DROPPED_KEPT = 10;

/**
 * Does one more move on a take. What had been taken back before it is kept beside the history. `revision` is the one that
 * whoever moves has seen; left out, anything is. Moves that came meanwhile and touch other things stand before it.
 * @throws LibraryError 409 where another window was faster with the same, 422
 */
export async function moveOnTake(db: Db, id: string, move: Move, revision?: number): Promise<TakeDetail> {
  return changeMoves(db, id, revision, {
    move,
    then: (row) => ({
      moves: [...row.moves.slice(0, row.movesDone), move],
      movesDone: row.movesDone + 1,
      dropped: row.movesDone < row.moves.length ? withDropped(row.dropped, row) : row.dropped,
    }),
  });
}

/** Takes the last move back (-1) or does the next again (+1). @throws LibraryError 409 where there is none. */
export async function stepMoves(db: Db, id: string, by: -1 | 1, revision?: number): Promise<TakeDetail> {
  return changeMoves(db, id, revision, {
    then: (row) => {
      const movesDone = row.movesDone + by;
      if (movesDone < 0) throw new LibraryError(409, 'There is nothing to take back.');
      if (movesDone > row.moves.length) throw new LibraryError(409, 'There is nothing to do again.');
      return { moves: row.moves, movesDone };
    },
  });
}

/** Goes to a place in the history: so many moves are done, those after it can be done again. @throws LibraryError 409 */
export async function goToMove(db: Db, id: string, done: number, revision?: number): Promise<TakeDetail> {
  return changeMoves(db, id, revision, {
    then: (row) => {
      if (done > row.moves.length) throw new LibraryError(409, 'The history is not that long.');
      return { moves: row.moves, movesDone: done };
    },
  });
}

/**
 * Brings a history back that was dropped, whole and done; the one it was dropped for takes its place among them.
 * @throws LibraryError 409 where there is none of that number
 */
export async function restoreMoves(
  db: Db,
  id: string,
  number: number,
  revision?: number,
): Promise<TakeDetail> {
  return changeMoves(db, id, revision, {
    then: (row) => {
      const wanted = row.dropped[number];
      if (!wanted) throw new LibraryError(409, 'This history is no longer kept.');
      const others = row.dropped.filter((_, i) => i !== number);
      return {
        moves: wanted.moves,
        movesDone: wanted.moves.length,
        dropped: withDropped(others, { moves: row.moves, movesDone: sharedMoves(row.moves, wanted.moves) }),
      };
    },
  });
}

function withDropped(
  dropped: readonly DroppedMoves[],
  { moves, movesDone }: Pick<TakeRow, 'moves' | 'movesDone'>,
): DroppedMoves[] {
  return [...dropped, { moves, at: movesDone }].slice(-DROPPED_KEPT);
}

/** How many moves two histories begin with alike. */
function sharedMoves(a: readonly Move[], b: readonly Move[]): number {
  let shared = 0;
  while (shared < a.length && JSON.stringify(a[shared]) === JSON.stringify(b[shared])) shared++;
  return shared;
}

/** Changes that are being worked out here, by take. */
const underWay = new Map<string, Set<Promise<unknown>>>();

/** Waits for the changes of a take that came before: whoever opens it again sees what they had sent. */
export async function settledMoves(id: string): Promise<void> {
  await Promise.allSettled(underWay.get(id) ?? []);
}

async function changeMoves(
  db: Db,
  id: string,
  seen: number | undefined,
  change: Change,
): Promise<TakeDetail> {
  const all = underWay.get(id) ?? new Set();
  underWay.set(id, all);
  // Whoever does not say what was seen stands behind those who came before: else all of them work on one revision, and one wins.
  const before = seen === undefined ? settledMoves(id) : Promise.resolve();
  const changing = before.then(() => workedOut(db, id, seen, change));
  all.add(changing);
  try {
    return await changing;
  } finally {
    all.delete(changing);
    if (all.size === 0 && underWay.get(id) === all) underWay.delete(id);
  }
}

/** Worked out in a thread, on the revision that was read; written only where that is still the newest. */
async function workedOut(db: Db, id: string, seen: number | undefined, change: Change): Promise<TakeDetail> {
  for (let tries = 1; ; tries++) {
    const { row, stored } = await storedTakeAt(db, id, seen);
    if (seen !== undefined && seen !== row.revision && !isApart(row, seen, change))
      throw changedElsewhere(row.name);
    const next = change.then(row);
    const done = next.moves.slice(0, next.movesDone);
    const moved = await compute('movedTake', stored, done, {
      asked: row.asked,
      capture: row.capture,
      // The chords of phrases are numbered otherwise only where harmony is heard or said otherwise.
      cut: harmonyState(done) === harmonyState(stored.moves) ? [] : await cutFrom(db, id),
    });
    const written = await writeMoved(db, row, { ...next, turned: turnedBy(row, seen, change) }, moved);
    if (written) return takeDetail(db, written);
    // It goes on from what is there now, and where what was seen is said, as far as that may be.
    if (tries === MOST_TRIES) throw changedElsewhere(row.name);
  }
}

/** Whether a move that was made on an older revision may stand after those that came since: they touch other things. */
function isApart(row: TakeRow, seen: number, { move }: Change): boolean {
  if (!move || seen < row.turned || row.movesDone < row.moves.length) return false;
  return row.moves.slice(-(row.revision - seen)).every((theirs) => areIndependent(theirs, move));
}

/**
 * The revision from which on moves were only added. One that was put behind others unseen counts as a turn: what its window sends before it has
 * seen them stands on something else than it says.
 */
function turnedBy(row: TakeRow, seen: number | undefined, { move }: Change): number {
  const isAdded = move !== undefined && row.movesDone === row.moves.length;
  const isOnSeen = seen === undefined || seen === row.revision;
  return isAdded && isOnSeen ? row.turned : row.revision + 1;
}

/** The same text where the same harmony is found. */
function harmonyState(moves: readonly Move[]): string {
  return JSON.stringify(singleMoves(moves).filter((move) => OF_HARMONY.includes(touchOf(move))));
}

/** Other processes on one library may be as busy with the take. */
const MOST_TRIES = 20;

/** A change that stands on others which are still on their way waits for them so long, in milliseconds. */
const PATIENCE = 5000;

/** A take that has come as far as whoever changes it has seen, or that did not come so far in time. */
async function storedTakeAt(db: Db, id: string, seen = 0) {
  for (const start = Date.now(); ; await delay(15)) {
    const read = await storedTake(db, id);
    if (read.row.revision >= seen || Date.now() - start > PATIENCE) return read;
  }
}

function changedElsewhere(name: string): LibraryError {
  return new LibraryError(409, `"${name}" was changed in another window. Nothing was done here.`);
}

/** Phrases that were cut from a take, as far as their chords depend on it. */
function cutFrom(db: Db, takeId: string) {
  return (
    db
      .select({
        id: phrases.id,
        role: phrases.role,
        startBar: phrases.startBar,
        bars: phrases.bars,
        changes: phraseContents.changes,
        takeKey: phrases.takeKey,
        corrections: phraseContents.corrections,
      })
      .from(phrases)
      .innerJoin(phraseContents, withContent)
      // What was taken through other chords keeps those.
      .where(and(eq(phrases.takeId, takeId), isNull(phraseContents.capturedKey)))
  );
}

/** Writes what became of a take, and answers it; null where another revision came before. */
async function writeMoved(
  db: Db,
  row: TakeRow,
  next: Moved & Pick<TakeRow, 'turned'>,
  moved: MovedTake,
): Promise<TakeRow | null> {
  const { name: called, parts, changes, ...columns } = moved;
  const changed = { ...next, ...columns, name: called ?? row.foundName, revision: row.revision + 1 };
  return db.transaction(async (tx) => {
    const written = await tx
      .update(takes)
      .set(changed)
      .where(and(eq(takes.id, row.id), eq(takes.revision, row.revision)))
      .returning({ id: takes.id });
    if (written.length === 0) return null;
    for (const one of changes) await writeChanges(tx, one);
    if (parts) await writeParts(tx, row.id, parts);
    return { ...row, ...changed };
  });
}

/** A phrase has other changes now. What it is compared by is found again in time. */
async function writeChanges(tx: Db, { id, changes, numerals }: MovedTake['changes'][number]): Promise<void> {
  await tx.update(phrases).set({ numerals }).where(eq(phrases.id, id));
  await tx.update(phraseContents).set({ changes }).where(eq(phraseContents.phraseId, id));
  await tx.update(phraseMarks).set({ method: 0 }).where(eq(phraseMarks.phraseId, id));
}
