import { setImmediate as breath } from 'node:timers/promises';
import { eq } from 'drizzle-orm';
import { withPreset } from '../../core/normalize/apply-preset.ts';
import { differenceOf, isSame } from '../../core/normalize/difference.ts';
import { houseFitting, houseRecipe, type House } from '../../core/normalize/house.ts';
import { orderProblem } from '../../core/normalize/order.ts';
import { RecipeError } from '../../core/normalize/recipe.ts';
import type { Db, Library } from '../db/client.ts';
import type { BatchItemState, BatchPhase } from '../db/schema.ts';
import { phrases } from '../db/schema.ts';
import {
  getBatch,
  holdItem,
  itemsIn,
  runningBatches,
  setPhase,
  writeItem,
  type Batch,
  type BatchItem,
} from '../library/batches.ts';
import { LibraryError, storageProblem } from '../library/errors.ts';
import { getHouse } from '../library/house.ts';
import { phraseContent, sourceOfRow } from '../library/phrase-content.ts';
import { clipOfRow, openPhrase, rewritePhrase } from '../library/phrases.ts';
import { openOriginal } from '../library/takes.ts';

/** Phrases between two looks at whether the work is still wanted. */
const AT_ONCE = 24;

/** What the work on an item needs. */
interface Tools {
  db: Db;
  house: House;
  open: typeof openOriginal;
}

/** What is done in a phase: to which items, and what follows when none is left. */
const WORK: Partial<
  Record<BatchPhase, { on: BatchItemState; then: 'looked' | 'applied' | 'takenBack'; each: typeof lookAt }>
> = {
  looking: { on: 'waiting', then: 'looked', each: lookAt },
  applying: { on: 'looked', then: 'applied', each: applyTo },
  takingBack: { on: 'applied', then: 'takenBack', each: takeBack },
};

/** Batches this process works on. */
const running = new Map<string, Promise<void>>();

/** Works on a batch until its phase is done or somebody stops it. */
export function workOnBatch(library: Library, id: string): Promise<void> {
  const before = running.get(id) ?? Promise.resolve();
  const end = before.then(() => work(library, id));
  running.set(id, end);
  end
    .catch((error: unknown) => console.error(error))
    .finally(() => {
      if (running.get(id) === end) running.delete(id);
    });
  return end;
}

/** Set when the library is about to be closed: what is under way is finished, and the rest is left to the next start. */
let isEnding = false;

export async function endBatches(): Promise<void> {
  isEnding = true;
  await Promise.allSettled(running.values());
}

/** Goes on with what a process before this one did not finish. */
export async function resumeBatches(library: Library): Promise<void> {
  for (const { id } of await runningBatches(library.db)) void workOnBatch(library, id);
}

async function work(library: Library, id: string): Promise<void> {
  const { db } = library;
  const house = await getHouse(db);
  const open = rememberLast(openOriginal);
  while (!isEnding) {
    const batch = await getBatch(db, id);
    const todo = WORK[batch.phase];
    if (!todo) return;
    const items = await itemsIn(db, id, todo.on, AT_ONCE);
    if (items.length === 0) {
      await setPhase(db, id, todo.then);
      return;
    }
    for (const item of items) {
      if (isEnding) return;
      await workOnItem(db, item, (tx) => todo.each({ db: tx, house, open }, batch, item), todo.on);
      // Requests come in between.
      await breath();
    }
  }
}

/** All that is done about a phrase, or nothing. One that cannot be worked out is refused, and the others go on. */
async function workOnItem(
  db: Db,
  item: BatchItem,
  each: (tx: Db) => Promise<void>,
  state: BatchItemState,
): Promise<void> {
  try {
    await db.transaction(async (tx) => {
      if (await holdItem(tx, item, state)) await each(tx);
    });
  } catch (error) {
    // What the disk refuses ends the work; the next start goes on with it.
    if (storageProblem(error)) throw error;
    if (!(error instanceof LibraryError || error instanceof RecipeError)) console.error(error);
    const reason = error instanceof Error ? error.message : String(error);
    await writeItem(db, item, { state: 'refused', reason });
  }
}

/** Works out what would change, and changes nothing. */
async function lookAt({ db, house, open }: Tools, batch: Batch, item: BatchItem): Promise<void> {
  const { row, take, about } = await openPhrase(db, item.phraseId, open);
  const preset = batch.recipe ?? houseRecipe(row.role, null, row.takeKey?.mode ?? null, house);
  const after = withPreset(row.recipe, preset);
  const problem = orderProblem(after.steps);
  const before = { recipe: row.recipe, fitting: row.fitting, name: row.name };
  if (problem) return writeItem(db, item, { state: 'refused', reason: problem.reason, before });
  const { clip } = phraseContent(take, sourceOfRow(row, about), after);
  if (clip.notes.length === 0)
    return writeItem(db, item, { state: 'refused', reason: 'This recipe leaves no notes.', before });
  const difference = differenceOf(clipOfRow(row), clip);
  const renamed = clip.name !== undefined && clip.name !== row.name;
  const state = isSame(difference) && !renamed && sameFitting(batch, row, house) ? 'same' : 'looked';
  return writeItem(db, item, { state, before, after, difference, reason: null });
}

/** Each role's house recipe brings the house's fitting with it; a recipe of one's own leaves fittings alone. */
function fittingAfter(batch: Batch, row: typeof phrases.$inferSelect, house: House) {
  if (batch.recipe) return row.fitting;
  return houseFitting(row.role, row.fitting.shift?.early === 'wrap', house);
}

function sameFitting(batch: Batch, row: typeof phrases.$inferSelect, house: House): boolean {
  return JSON.stringify(fittingAfter(batch, row, house)) === JSON.stringify(row.fitting);
}

async function applyTo({ db, house, open }: Tools, batch: Batch, item: BatchItem): Promise<void> {
  const [row] = await db.select().from(phrases).where(eq(phrases.id, item.phraseId));
  if (!row || !item.after) return writeItem(db, item, { state: 'refused', reason: 'It is gone.' });
  // What somebody changed since it was looked at is not overwritten unseen.
  if (JSON.stringify(row.recipe) !== JSON.stringify(item.before!.recipe)) {
    return writeItem(db, item, {
      state: 'refused',
      reason: 'Its recipe was changed after it was looked at.',
    });
  }
  const change = { recipe: item.after, fitting: fittingAfter(batch, row, house) };
  await rewritePhrase(db, item.phraseId, change, open);
  return writeItem(db, item, { state: 'applied' });
}

async function takeBack({ db, open }: Tools, _: Batch, item: BatchItem): Promise<void> {
  const [row] = await db.select().from(phrases).where(eq(phrases.id, item.phraseId));
  // What somebody did to it since is not lost with it.
  if (!row || JSON.stringify(row.recipe) !== JSON.stringify(item.after)) {
    return writeItem(db, item, {
      state: 'refused',
      reason: 'Its recipe was changed after the batch: left as it is.',
    });
  }
  await rewritePhrase(db, item.phraseId, item.before!, open);
  return writeItem(db, item, { state: 'looked' });
}

/** A function that knows its last answer: phrases of one take come one after the other, and its file is read once. */
function rememberLast(open: typeof openOriginal): typeof openOriginal {
  let last: { id: string; answer: ReturnType<typeof openOriginal> } | undefined;
  return (db, id) => {
    if (last?.id !== id) last = { id, answer: open(db, id) };
    return last.answer;
  };
}
