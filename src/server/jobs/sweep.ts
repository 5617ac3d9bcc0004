import { standInOf } from '../../core/sweep/plan.ts';
import { compute } from '../compute/pool.ts';
import type { Library } from '../db/client.ts';
import { awayProblem, LibraryError, notFound, storageProblem } from '../library/errors.ts';
import { wholePhrase } from '../library/phrases/phrase-rows.ts';
import { clipOfRow } from '../library/phrases/phrases.ts';
import { chartOf, nameOfRun, nextRun, runningSweeps, writeRun } from '../library/takes/sweeps.ts';
import { storedTake, takeIn } from '../library/takes/takes.ts';
import type { MayGoOn, Work } from './engine.ts';

/** Runs of stand-ins, one after the other. */
export const SWEEPS: Work = {
  kind: 'sweep',
  open: async ({ db }) => (await runningSweeps(db)).map(({ id }) => id),
  run: workOnSweep,
};

/** Goes through the runs of a sweep of a stand-in that still wait, until none does or somebody stops it. */
async function workOnSweep(library: Library, id: string, mayGoOn: MayGoOn): Promise<void> {
  while (await mayGoOn()) {
    const next = await nextRun(library.db, id);
    // The runs of a device are made by the page that has it.
    if (!next || next.sweep.plan.source.kind !== 'stand-in') return;
    await oneRun(library, next);
  }
}

/**
 * One run: played, taken in, read. A run plays the same notes every time, and the same bytes are the same take: where the process dies in
 * between, nothing is there twice.
 */
async function oneRun(
  library: Library,
  { sweep: { id, plan }, run: { position, settings } }: NonNullable<Awaited<ReturnType<typeof nextRun>>>,
): Promise<void> {
  const { db } = library;
  try {
    const trigger = plan.trigger.kind === 'phrase' ? await triggerClip(library, plan.trigger.id) : null;
    const played = await compute('sweepRun', plan, settings, trigger);
    if (!played) return await writeRun(db, id, position, { state: 'silent', reason: 'Nothing was played.' });
    const name = nameOfRun(plan, settings);
    const chart = chartOf(plan);
    const { takeIds } = await takeIn(library, {
      ...{ bytes: played.bytes, fileName: `${name}.mid`, name, source: standInOf(plan)!.title },
      asked: { ...(chart ? { chart } : {}), bars: played.bars },
    });
    const takeId = takeIds[0]!;
    const heard = await compute('sweepHeard', (await storedTake(db, takeId)).stored, chart);
    await writeRun(db, id, position, { state: 'done', takeId, heard });
  } catch (error) {
    if (storageProblem(error) ?? awayProblem(error)) throw error;
    if (!(error instanceof LibraryError)) console.error(error);
    await writeRun(db, id, position, { state: 'failed', reason: (error as Error).message });
  }
}

/** The phrase that is held down. @throws LibraryError 404 */
async function triggerClip({ db }: Library, id: string) {
  const row = await wholePhrase(db, id);
  if (!row) throw notFound('phrase');
  return clipOfRow(row);
}
