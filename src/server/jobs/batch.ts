import { eq } from 'drizzle-orm';
import equal from 'fast-deep-equal';
import { isSame } from '../../core/normalize/difference.ts';
import type { Fitting } from '../../core/normalize/fitting.ts';
import { houseFitting, houseRecipe, type House } from '../../core/normalize/house.ts';
import { RecipeError, type Recipe } from '../../core/normalize/recipe.ts';
import { compute } from '../compute/pool.ts';
import type { Db, Library } from '../db/client.ts';
import { type BatchItemState, type BatchPhase, phraseContents } from '../db/schema.ts';
import {
  getBatch,
  holdItem,
  itemsIn,
  runningBatches,
  setPhase,
  writeItem,
  type Batch,
  type BatchItem,
} from '../library/phrases/batches.ts';
import { awayProblem, LibraryError, storageProblem } from '../library/errors.ts';
import { getHouse } from '../library/house.ts';
import type { MayGoOn, Work } from './engine.ts';
import { sourceOfRow } from '../library/phrases/phrase-content.ts';
import { wholePhrase, type WholePhrase } from '../library/phrases/phrase-rows.ts';
import { clipOfRow, openPhrase, rewritePhrase } from '../library/phrases/phrases.ts';

/** Phrases between two looks at whether the work is still wanted. */
const AT_ONCE = 24;

/** What is worked out about an item before anything is written, and then written in one transaction. */
type Step = (db: Db, house: House, batch: Batch, item: BatchItem) => Promise<(tx: Db) => Promise<void>>;

/** What is done in a phase: to which items, and what follows when none is left. */
const WORK: Partial<
  Record<BatchPhase, { on: BatchItemState; then: 'looked' | 'applied' | 'takenBack'; each: Step }>
> = {
  looking: { on: 'waiting', then: 'looked', each: lookAt },
  applying: { on: 'looked', then: 'applied', each: applyTo },
  takingBack: { on: 'applied', then: 'takenBack', each: takeBack },
};

/** Recipes for many phrases: looked at, applied, taken back. */
export const BATCHES: Work = {
  kind: 'batch',
  open: async ({ db }) => (await runningBatches(db)).map(({ id }) => id),
  run: workOnBatch,
};

/** Works on a batch until its phase is done or somebody stops it. */
async function workOnBatch({ db }: Library, id: string, mayGoOn: MayGoOn): Promise<void> {
  const house = await getHouse(db);
  while (await mayGoOn()) {
    const batch = await getBatch(db, id);
    const todo = WORK[batch.phase];
    if (!todo) return;
    const items = await itemsIn(db, id, todo.on, AT_ONCE);
    if (items.length === 0) {
      await setPhase(db, id, todo.then);
      return;
    }
    for (const item of items) await workOnItem(db, item, () => todo.each(db, house, batch, item), todo.on);
  }
}

/** All that is done about a phrase, or nothing. One that cannot be worked out is refused, and the others go on. */
async function workOnItem(
  db: Db,
  item: BatchItem,
  each: () => Promise<(tx: Db) => Promise<void>>,
  state: BatchItemState,
): Promise<void> {
  try {
    const write = await each();
    await db.transaction(async (tx) => {
      if (await holdItem(tx, item, state)) await write(tx);
    });
  } catch (error) {
    // What the disk refuses, or a database that is away, ends the work; whoever looks next goes on with it.
    if (storageProblem(error) ?? awayProblem(error)) throw error;
    if (!(error instanceof LibraryError || error instanceof RecipeError)) console.error(error);
    const reason = error instanceof Error ? error.message : String(error);
    await writeItem(db, item, { state: 'refused', reason });
  }
}

/** Works out what would change, and changes nothing. */
async function lookAt(db: Db, house: House, batch: Batch, item: BatchItem) {
  const { row, from, about } = await openPhrase(db, item.phraseId);
  const preset = batch.recipe ?? houseRecipe(row.role, null, row.takeKey?.mode ?? null, house);
  const before = { recipe: row.recipe, fitting: row.fitting, name: row.name };
  const cutFrom = { ...from, source: sourceOfRow(row, about) };
  const look = await compute('batchLook', cutFrom, row.recipe, preset, clipOfRow(row));
  if ('refused' in look)
    return (tx: Db) => writeItem(tx, item, { state: 'refused', reason: look.refused, before });
  const { after, difference, name } = look;
  const renamed = name !== undefined && name !== row.name;
  const state = isSame(difference) && !renamed && sameFitting(batch, row, house) ? 'same' : 'looked';
  return (tx: Db) => writeItem(tx, item, { state, before, after, difference, reason: null });
}

/** Each role's house recipe brings the house's fitting with it; a recipe of one's own leaves fittings alone. */
function fittingAfter(batch: Batch, row: WholePhrase, house: House) {
  if (batch.recipe) return row.fitting;
  return houseFitting(row.role, row.fitting.shift?.early === 'wrap', house);
}

function sameFitting(batch: Batch, row: WholePhrase, house: House): boolean {
  return JSON.stringify(fittingAfter(batch, row, house)) === JSON.stringify(row.fitting);
}

async function applyTo(db: Db, house: House, batch: Batch, item: BatchItem) {
  const row = await wholePhrase(db, item.phraseId);
  if (!row || !item.after)
    return (tx: Db) => writeItem(tx, item, { state: 'refused', reason: 'It is gone.' });
  const change = { recipe: item.after, fitting: fittingAfter(batch, row, house) };
  const changed = 'Its recipe was changed after it was looked at.';
  return rewriteUnless(db, item, item.before!.recipe, changed, change, 'applied');
}

function takeBack(db: Db, _: House, __: Batch, item: BatchItem) {
  const changed = 'Its recipe was changed after the batch: left as it is.';
  return rewriteUnless(db, item, item.after!, changed, item.before!, 'looked');
}

/** Rewrites a phrase unless somebody has changed its recipe: what they did is not overwritten unseen. */
async function rewriteUnless(
  db: Db,
  item: BatchItem,
  expected: Recipe,
  changed: string,
  change: { recipe: Recipe; fitting: Fitting; name?: string },
  state: BatchItemState,
) {
  const { write } = await rewritePhrase(db, item.phraseId, change);
  return async (tx: Db) => {
    const [now] = await tx
      .select({ recipe: phraseContents.recipe })
      .from(phraseContents)
      .where(eq(phraseContents.phraseId, item.phraseId))
      .for('update');
    if (!now || !equal(now.recipe, expected))
      return writeItem(tx, item, { state: 'refused', reason: changed });
    await write(tx);
    return writeItem(tx, item, { state });
  };
}
