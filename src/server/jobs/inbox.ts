import { createReadStream, mkdirSync } from 'node:fs';
import { createHash } from 'node:crypto';
import { basename, join, relative } from 'node:path';
import { watch } from 'chokidar';
import { eq } from 'drizzle-orm';
import type { Library } from '../db/client.ts';
import { originals } from '../db/schema.ts';
import { intakeOf } from '../library/jobs.ts';
import { workOn } from './engine.ts';
import { INTAKES } from './intake.ts';

/** How long a file must not have grown before it is read, in milliseconds. */
const SETTLED = 1000;

/** Files that settle within this time are one intake. */
const TOGETHER = 300;

export function inboxFolder(library: Pick<Library, 'dataDirectory'>): string {
  return join(library.dataDirectory, 'inbox');
}

/**
 * Watches the inbox: what a device or program puts there is taken in once it has finished growing. Files stay where
 * they are; those that are in the library already are passed over.
 */
export async function watchInbox(library: Library): Promise<{ close(): Promise<void> }> {
  const folder = inboxFolder(library);
  mkdirSync(folder, { recursive: true });
  let settled: string[] = [];
  let timer: ReturnType<typeof setTimeout> | undefined;
  const takeIn = async () => {
    const paths = settled;
    settled = [];
    const fresh = [];
    for (const path of paths) if (!(await isKnown(library, path))) fresh.push(path);
    if (fresh.length === 0) return;
    const items = fresh.map((path) => ({ file: relative(folder, path), path }));
    const job = await intakeOf(library.db, 'inbox', { source: 'Inbox' }, items);
    await workOn(library, INTAKES, job.id);
  };
  const watcher = watch(folder, {
    awaitWriteFinish: { stabilityThreshold: SETTLED, pollInterval: 200 },
    ignored: (path) => path !== folder && basename(path).startsWith('.'),
  });
  watcher.on('add', (path) => {
    settled.push(path);
    clearTimeout(timer);
    timer = setTimeout(() => void takeIn().catch((error: unknown) => console.error(error)), TOGETHER);
  });
  watcher.on('error', (error) => console.error(error));
  await new Promise<void>((resolve) => watcher.once('ready', () => resolve()));
  return {
    close: async () => {
      clearTimeout(timer);
      await watcher.close();
    },
  };
}

async function isKnown(library: Library, path: string): Promise<boolean> {
  const hash = createHash('sha256');
  try {
    for await (const piece of createReadStream(path)) hash.update(piece as Buffer);
  } catch {
    return false;
  }
  const found = await library.db
    .select({ sha256: originals.sha256 })
    .from(originals)
    .where(eq(originals.sha256, hash.digest('hex')));
  return found.length > 0;
}
