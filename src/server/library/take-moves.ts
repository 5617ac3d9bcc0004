import { and, eq } from 'drizzle-orm';
import { takeAccount } from '../../core/analyze/account.ts';
import { harmonyOf } from '../../core/analyze/analysis.ts';
import { changesIn, numeralLine } from '../../core/analyze/changes.ts';
import type { ChordFinding } from '../../core/analyze/chords.ts';
import type { Take } from '../../core/capture/take.ts';
import { byHandOf } from '../../core/split/by-hand.ts';
import type { Correction } from '../../core/split/corrections.ts';
import { correctionsOf, MoveError, replayMoves, takeFactsOf, type Move } from '../../core/split/moves.ts';
import { UNPITCHED } from '../../core/split/roles.ts';
import type { Db } from '../db/client.ts';
import { phrases, takes, type DroppedMoves } from '../db/schema.ts';
import { countMends, factsKept, keysKept } from './derive.ts';
import { LibraryError } from './errors.ts';
import { searchTextOf, tagsOf } from './phrases.ts';
import { getTake, openOriginal, writeParts, type TakeDetail } from './takes.ts';

type TakeRow = typeof takes.$inferSelect;

/** What a change makes of a take's moves. */
type Moved = Pick<TakeRow, 'moves' | 'movesDone'> & Partial<Pick<TakeRow, 'dropped'>>;

/** Histories that were dropped by going on elsewhere, at most. */
const DROPPED_KEPT = 10;

/**
 * Does one more move on a take. What had been taken back before it is kept beside the history. `revision` is the one that
 * whoever moves has seen; left out, anything is. @throws LibraryError 409 where another window was faster, 422
 */
export async function moveOnTake(db: Db, id: string, move: Move, revision?: number): Promise<TakeDetail> {
  return changeMoves(db, id, revision, (row) => ({
    moves: [...row.moves.slice(0, row.movesDone), move],
    movesDone: row.movesDone + 1,
    dropped: row.movesDone < row.moves.length ? withDropped(row.dropped, row) : row.dropped,
  }));
}

/** Takes the last move back (-1) or does the next again (+1). @throws LibraryError 409 where there is none. */
export async function stepMoves(db: Db, id: string, by: -1 | 1, revision?: number): Promise<TakeDetail> {
  return changeMoves(db, id, revision, (row) => {
    const movesDone = row.movesDone + by;
    if (movesDone < 0) throw new LibraryError(409, 'There is nothing to take back.');
    if (movesDone > row.moves.length) throw new LibraryError(409, 'There is nothing to do again.');
    return { moves: row.moves, movesDone };
  });
}

/** Goes to a place in the history: so many moves are done, those after it can be done again. @throws LibraryError 409 */
export async function goToMove(db: Db, id: string, done: number, revision?: number): Promise<TakeDetail> {
  return changeMoves(db, id, revision, (row) => {
    if (done > row.moves.length) throw new LibraryError(409, 'The history is not that long.');
    return { moves: row.moves, movesDone: done };
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
  return changeMoves(db, id, revision, (row) => {
    const wanted = row.dropped[number];
    if (!wanted) throw new LibraryError(409, 'This history is no longer kept.');
    const others = row.dropped.filter((_, i) => i !== number);
    return {
      moves: wanted.moves,
      movesDone: wanted.moves.length,
      dropped: withDropped(others, { moves: row.moves, movesDone: sharedMoves(row.moves, wanted.moves) }),
    };
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

async function changeMoves(
  db: Db,
  id: string,
  revision: number | undefined,
  change: (row: TakeRow) => Moved,
): Promise<TakeDetail> {
  await db.transaction(async (tx) => {
    // Two windows may work on one take: the row is held until its parts are written.
    await tx.select({ id: takes.id }).from(takes).where(eq(takes.id, id)).for('update');
    const { row, original } = await openOriginal(tx, id);
    if (revision !== undefined && revision !== row.revision)
      throw new LibraryError(409, `"${row.name}" was changed in another window. Nothing was done here.`);
    const next = change(row);
    try {
      const done = next.moves.slice(0, next.movesDone);
      const { take, split } = replayMoves(original, done);
      const facts = takeFactsOf(done);
      const name = facts.name ?? row.foundName;
      const byHand = byHandOf(done);
      const { chords, keys } = harmonyOf(take, split, { ...byHand, key: null });
      await tx
        .update(takes)
        .set({
          ...next,
          name,
          chosenKey: facts.key ?? null,
          keys: keysKept(keys),
          facts: factsKept(take),
          account: takeAccount(take, split, row.asked, row.capture),
          proposals: countMends(take, split),
          revision: row.revision + 1,
        })
        .where(eq(takes.id, id));
      await renumber(tx, id, { take, corrections: correctionsOf(done), chords });
      if (name !== row.name) await renameInSearch(tx, id, name);
      await writeParts(tx, id, split);
    } catch (error) {
      if (error instanceof MoveError) throw new LibraryError(422, error.message);
      throw error;
    }
  });
  return getTake(db, id);
}

/** Phrases cut from the take in the time it has now say their chords as they are now, in their own keys. */
async function renumber(
  db: Db,
  takeId: string,
  { take, corrections, chords }: { take: Take; corrections: Correction[]; chords: ChordFinding[] },
): Promise<void> {
  const cut = await db
    .select({
      id: phrases.id,
      role: phrases.role,
      startBar: phrases.startBar,
      bars: phrases.bars,
      numerals: phrases.numerals,
      takeKey: phrases.takeKey,
      corrections: phrases.corrections,
    })
    .from(phrases)
    .where(eq(phrases.takeId, takeId));
  for (const { takeKey, ...phrase } of cut) {
    if (!takeKey || UNPITCHED.has(phrase.role)) continue;
    if (JSON.stringify(phrase.corrections) !== JSON.stringify(corrections)) continue;
    const numerals = numeralLine(changesIn(take, chords, takeKey, phrase));
    if (numerals !== phrase.numerals)
      await db.update(phrases).set({ numerals }).where(eq(phrases.id, phrase.id));
  }
}

/** A take that is called otherwise is found by its new name: so are its phrases. */
async function renameInSearch(db: Db, takeId: string, name: string): Promise<void> {
  const cut = await db
    .select({ id: phrases.id, name: phrases.name, role: phrases.role, partName: phrases.partName })
    .from(phrases)
    .where(and(eq(phrases.takeId, takeId)));
  const tags = await tagsOf(
    db,
    cut.map((phrase) => phrase.id),
  );
  for (const phrase of cut) {
    const words = tags.get(phrase.id) ?? [];
    await db
      .update(phrases)
      .set({ searchText: searchTextOf(phrase.name, phrase.role, phrase.partName, name, words) })
      .where(eq(phrases.id, phrase.id));
  }
}
