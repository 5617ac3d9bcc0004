import { randomUUID } from 'node:crypto';
import { asc, eq } from 'drizzle-orm';
import { ChartError, parseChart } from '../../core/music/chart.ts';
import type { Mode } from '../../core/music/key.ts';
import type { Db } from '../db/client.ts';
import { projects } from '../db/schema.ts';
import { LibraryError, notFound } from './errors.ts';
import { overKept } from './kept-meanwhile.ts';

export type Project = typeof projects.$inferSelect;

export interface ProjectChange {
  name: string;
  keyTonic: number | null;
  keyMode: Mode | null;
  bpm: number;
  meterNumerator: number;
  meterDenominator: number;
  chords: string;
}

export function listProjects(db: Db): Promise<Project[]> {
  return db.select().from(projects).orderBy(asc(projects.createdAt), asc(projects.name));
}

/** @throws LibraryError 404 */
export async function getProject(db: Db, id: string): Promise<Project> {
  const [row] = await db.select().from(projects).where(eq(projects.id, id));
  if (!row) throw notFound('project');
  return row;
}

/** @throws LibraryError 409 where the name is taken, 422 where the chords cannot be read. */
export async function createProject(db: Db, change: ProjectChange): Promise<Project> {
  checkChords(change);
  const rows = await db
    .insert(projects)
    .values({ id: randomUUID(), ...change })
    .onConflictDoNothing()
    .returning();
  if (!rows[0]) throw new LibraryError(409, `There is already a project called "${change.name}".`);
  return rows[0];
}

/** @throws LibraryError 404, 409 where the name is taken or somebody changed the same meanwhile, 422 where the chords cannot be read */
export async function updateProject(
  db: Db,
  id: string,
  { base, ...mine }: ProjectChange & { base?: ProjectChange | undefined },
): Promise<Project> {
  const { id: _id, createdAt: _createdAt, ...kept } = await getProject(db, id);
  const change = overKept<ProjectChange>(`"${kept.name}"`, { base, mine }, kept);
  checkChords(change);
  const [taken] = await db.select({ id: projects.id }).from(projects).where(eq(projects.name, change.name));
  if (taken && taken.id !== id)
    throw new LibraryError(409, `There is already a project called "${change.name}".`);
  const [row] = await db.update(projects).set(change).where(eq(projects.id, id)).returning();
  if (!row) throw notFound('project');
  return row;
}

function checkChords({ chords, meterNumerator }: ProjectChange): void {
  if (!chords.trim()) return;
  try {
    parseChart(chords, meterNumerator);
  } catch (error) {
    if (error instanceof ChartError) throw new LibraryError(422, error.message);
    throw error;
  }
}
