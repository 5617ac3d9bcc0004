import { randomUUID } from 'node:crypto';
import { desc, eq, sql } from 'drizzle-orm';
import type { Db } from '../db/client.ts';
import { jobs, type IntakeOutcome, type JobState } from '../db/schema.ts';
import { notFound } from './errors.ts';

export type Job = typeof jobs.$inferSelect;

/** Begins the account of an intake of so many files. */
export async function startIntake(db: Db, total: number): Promise<Job> {
  const [row] = await db.insert(jobs).values({ id: randomUUID(), kind: 'intake', total }).returning();
  return row!;
}

/** Adds what came of one file. The job is done with its last one. */
export async function recordOutcome(db: Db, id: string, outcome: IntakeOutcome): Promise<void> {
  await db
    .update(jobs)
    .set({
      outcomes: sql`${jobs.outcomes} || ${JSON.stringify([outcome])}::jsonb`,
      state: sql`case when ${jobs.state} = 'running' and jsonb_array_length(${jobs.outcomes}) + 1 >= ${jobs.total}
        then 'done' else ${jobs.state} end`,
      updatedAt: new Date(),
    })
    .where(eq(jobs.id, id));
}

export async function endJob(db: Db, id: string, state: JobState): Promise<Job> {
  const [row] = await db
    .update(jobs)
    .set({ state, updatedAt: new Date() })
    .where(eq(jobs.id, id))
    .returning();
  if (!row) throw notFound('job');
  return row;
}

/** The last intake, or nothing. */
export async function lastIntake(db: Db): Promise<Job | null> {
  const [row] = await db
    .select()
    .from(jobs)
    .where(eq(jobs.kind, 'intake'))
    .orderBy(desc(jobs.createdAt))
    .limit(1);
  return row ?? null;
}
