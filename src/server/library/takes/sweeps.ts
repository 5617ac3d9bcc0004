import { randomUUID } from 'node:crypto';
import { and, asc, desc, eq, sql } from 'drizzle-orm';
import {
  problemOfPlan,
  runName,
  runsOf,
  tagsOfRun,
  type SweepPlan,
  type SweepRunState,
  type SweepState,
} from '../../../core/sweep/plan.ts';
import { heardAgain, sheetOf, type KeptHeard } from '../../../core/sweep/sheet.ts';
import { compute } from '../../compute/pool.ts';
import type { Db, Library } from '../../db/client.ts';
import { parts, sweepRuns, sweeps, takes } from '../../db/schema.ts';
import { LibraryError, notFound } from '../errors.ts';
import { makePhrases } from '../phrases/make-phrases.ts';
import { changeTakes, storedTake } from './takes.ts';

const DETAIL = { id: sweeps.id, name: sweeps.name, plan: sweeps.plan, state: sweeps.state };

const countOf = (state: SweepRunState) =>
  sql<number>`count(*) filter (where ${sweepRuns.state} = ${state})::int`;

/** Sweeps, the newest first, with how far each is. */
export function listSweeps(db: Db) {
  return db
    .select({
      ...{ id: sweeps.id, name: sweeps.name, state: sweeps.state, createdAt: sweeps.createdAt },
      runs: sql<number>`count(*)::int`,
      waiting: countOf('waiting'),
    })
    .from(sweeps)
    .innerJoin(sweepRuns, eq(sweepRuns.sweepId, sweeps.id))
    .groupBy(sweeps.id)
    .orderBy(desc(sweeps.createdAt), desc(sweeps.id));
}

export type SweepItem = Awaited<ReturnType<typeof listSweeps>>[number];

/** Writes down all runs of a plan; the work begins elsewhere. @throws LibraryError 422 */
export async function createSweep(db: Db, plan: SweepPlan): Promise<{ id: string }> {
  const problem = problemOfPlan(plan);
  if (problem) throw new LibraryError(422, problem);
  const id = randomUUID();
  await db.transaction(async (tx) => {
    await tx.insert(sweeps).values({ id, name: plan.name, plan, state: 'running' });
    await tx
      .insert(sweepRuns)
      .values(runsOf(plan).map((settings, position) => ({ sweepId: id, position, settings })));
  });
  return { id };
}

/** A sweep without its runs. @throws LibraryError 404 */
async function sweepRow(db: Db, id: string) {
  const [row] = await db.select(DETAIL).from(sweeps).where(eq(sweeps.id, id));
  if (!row) throw notFound('sweep');
  return row;
}

/** The next run that waits, of a sweep that is to go on; null where there is none. @throws LibraryError 404 */
export async function nextRun(db: Db, id: string) {
  const sweep = await sweepRow(db, id);
  if (sweep.state !== 'running') return null;
  const [run] = await db
    .select({ position: sweepRuns.position, settings: sweepRuns.settings })
    .from(sweepRuns)
    .where(and(eq(sweepRuns.sweepId, id), eq(sweepRuns.state, 'waiting')))
    .orderBy(asc(sweepRuns.position))
    .limit(1);
  return run ? { sweep, run } : null;
}

/** A sweep and its runs, in their order. @throws LibraryError 404 */
export async function getSweep(db: Db, id: string) {
  const row = await sweepRow(db, id);
  const runs = await db
    .select({
      position: sweepRuns.position,
      settings: sweepRuns.settings,
      state: sweepRuns.state,
      reason: sweepRuns.reason,
      heard: sweepRuns.heard,
      takeId: sweepRuns.takeId,
    })
    .from(sweepRuns)
    .where(eq(sweepRuns.sweepId, id))
    .orderBy(asc(sweepRuns.position));
  return { ...row, runs };
}

export type SweepDetail = Awaited<ReturnType<typeof getSweep>>;

export async function setSweepState(db: Db, id: string, state: SweepState): Promise<void> {
  const found = await db
    .update(sweeps)
    .set({ state, updatedAt: new Date() })
    .where(eq(sweeps.id, id))
    .returning({ id: sweeps.id });
  if (found.length === 0) throw notFound('sweep');
}

/** Sweeps of stand-ins that are to go on, whoever began them. */
export async function runningSweeps(db: Db): Promise<{ id: string }[]> {
  return db
    .select({ id: sweeps.id })
    .from(sweeps)
    .where(and(eq(sweeps.state, 'running'), sql`${sweeps.plan} -> 'source' ->> 'kind' = 'stand-in'`));
}

/** What came of a run. */
interface RunResult {
  state: Exclude<SweepRunState, 'waiting'>;
  reason?: string;
  takeId?: string | null;
  heard?: KeptHeard | null;
}

/** Writes what came of a run; where no run waits any more, the sweep is done. @throws LibraryError 404 */
export async function writeRun(db: Db, id: string, position: number, result: RunResult): Promise<void> {
  await db.transaction(async (tx) => {
    const written = await tx
      .update(sweepRuns)
      .set({ reason: '', takeId: null, heard: null, ...result })
      .where(and(eq(sweepRuns.sweepId, id), eq(sweepRuns.position, position)))
      .returning({ position: sweepRuns.position });
    if (written.length === 0) throw notFound('run');
    const [left] = await tx
      .select({ count: countOf('waiting') })
      .from(sweepRuns)
      .where(eq(sweepRuns.sweepId, id));
    if (left!.count === 0) await tx.update(sweeps).set({ state: 'done' }).where(eq(sweeps.id, id));
  });
}

/** What a device answered in a run, recorded by a page: the take is read as runs are compared. @throws LibraryError 404 */
export async function writeRecordedRun(
  db: Db,
  id: string,
  position: number,
  { takeId, reason }: { takeId: string | null; reason: string },
): Promise<void> {
  const { plan } = await sweepRow(db, id);
  if (takeId === null) return writeRun(db, id, position, { state: 'silent', reason });
  const heard = await compute('sweepHeard', (await storedTake(db, takeId)).stored, chartOf(plan));
  await writeRun(db, id, position, { state: 'done', takeId, heard });
}

/** The chart that is asked; null where none is. */
export function chartOf({ trigger }: SweepPlan): string | null {
  return trigger.kind === 'chart' ? trigger.chart : null;
}

/** Sets the takes of runs aside that are an earlier run again, with the reason; how many. They are not deleted. @throws LibraryError 404 */
export async function setSameAside(db: Db, id: string): Promise<{ aside: string[] }> {
  const { runs } = await getSweep(db, id);
  const findings = sheetOf(runs.map(({ position, heard }) => heardAgain(position, heard)));
  const same = findings.flatMap(({ position, sameAs }) => {
    const takeId = runs[position]!.takeId;
    return sameAs !== null && takeId ? [{ position, sameAs, takeId }] : [];
  });
  if (same.length > 0) {
    await changeTakes(
      db,
      same.map(({ takeId }) => takeId),
      { aside: true },
    );
    for (const { position, sameAs } of same)
      await db
        .update(sweepRuns)
        .set({ reason: `The same as run ${sameAs + 1}: set aside.` })
        .where(and(eq(sweepRuns.sweepId, id), eq(sweepRuns.position, position)));
  }
  return { aside: same.map(({ takeId }) => takeId) };
}

/**
 * Keeps runs as phrases, a phrase a part, tagged with what was set for them.
 * @throws LibraryError 404; 422 where a run has no take
 */
export async function keepRuns(
  { db }: Library,
  id: string,
  positions: readonly number[],
): Promise<{ phraseIds: string[] }> {
  const { plan, runs } = await getSweep(db, id);
  const phraseIds: string[] = [];
  for (const position of positions) {
    const run = runs[position];
    if (!run?.takeId)
      throw new LibraryError(422, `Run ${position + 1} has no take: there is nothing to keep.`);
    const rows = await db.select({ key: parts.key }).from(parts).where(eq(parts.takeId, run.takeId));
    const [take] = await db.select({ account: takes.account }).from(takes).where(eq(takes.id, run.takeId));
    const made = await makePhrases(db, {
      takeId: run.takeId,
      parts: rows.map(({ key }) => key),
      ...{ startBar: 1, bars: take?.account?.barsReceived || plan.bars, projectId: null, keep: true },
      tags: tagsOfRun(plan, run.settings),
    });
    phraseIds.push(...made.phraseIds);
  }
  return { phraseIds };
}

/** What the take of a run is called. */
export function nameOfRun(plan: SweepPlan, settings: SweepDetail['runs'][number]['settings']): string {
  return `${plan.name}: ${runName(plan, settings)}`;
}
