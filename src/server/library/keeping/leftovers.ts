import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { eq, isNotNull } from 'drizzle-orm';
import type { Library } from '../../db/client.ts';
import { COPY_PREFIX } from '../../db/copy-of.ts';
import { jobItems, jobs } from '../../db/schema.ts';

/** Where other processes may share the folder, what is being written now is younger than this, in milliseconds. */
const OLD = 10 * 60 * 1000;

/** What a file of that is half written is called. */
const HALF_WRITTEN = /\.part$/;

/**
 * Removes what a process that was killed has left behind: files that were half written, copies for a backup, and what waited for intakes that have
 * ended. By age, and by what the database knows: nothing that still waits is touched.
 */
export async function removeLeftovers(
  library: Library,
  { isShared, now = Date.now() }: { isShared: boolean; now?: number },
): Promise<{ removed: number }> {
  const before = isShared ? now - OLD : now + 1;
  let removed = 0;
  const remove = async (path: string) => {
    await rm(path, { recursive: true, force: true });
    removed++;
  };
  const originals = join(library.dataDirectory, 'originals');
  for (const name of await namesIn(originals)) {
    const path = join(originals, name);
    if (HALF_WRITTEN.test(name) && (await isOlder(path, before))) await remove(path);
  }
  for (const name of await namesIn(library.dataDirectory)) {
    const path = join(library.dataDirectory, name);
    if (name.startsWith(COPY_PREFIX) && (await isOlder(path, before))) await remove(path);
  }
  const waiting = await waitingPaths(library);
  const running = await runningJobs(library);
  const spool = join(library.dataDirectory, 'intake');
  for (const job of await namesIn(spool)) {
    const folder = join(spool, job);
    if (!running.has(job)) {
      if (await isOlder(folder, before)) await remove(folder);
      continue;
    }
    for (const name of await namesIn(folder)) {
      const path = join(folder, name);
      const isWaited = [...waiting].some((one) => one === path || one.startsWith(`${path}/`));
      if (!isWaited && (await isOlder(path, before))) await remove(path);
    }
  }
  return { removed };
}

async function namesIn(folder: string): Promise<string[]> {
  return readdir(folder).catch(() => []);
}

async function isOlder(path: string, before: number): Promise<boolean> {
  const found = await stat(path).catch(() => null);
  return found !== null && found.mtimeMs < before;
}

async function waitingPaths({ db }: Library): Promise<Set<string>> {
  const rows = await db.select({ path: jobItems.path }).from(jobItems).where(isNotNull(jobItems.path));
  return new Set(rows.flatMap(({ path }) => path ?? []));
}

async function runningJobs({ db }: Library): Promise<Set<string>> {
  const rows = await db.select({ id: jobs.id }).from(jobs).where(eq(jobs.state, 'running'));
  return new Set(rows.map(({ id }) => id));
}
