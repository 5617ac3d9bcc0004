import { catalogOf, endCatalog } from './catalog/catalog.ts';
import { endThreads, warmThreads } from './compute/pool.ts';
import { openLibrary, type Library } from './db/client.ts';
import { LibraryLockedError } from './db/lock.ts';
import { BATCHES } from './jobs/batch.ts';
import { endRounds, takeOver } from './jobs/engine.ts';
import { beginWork, endWork, lookAgain, watchAlone } from './jobs/holds.ts';
import { closeOrphans, endReaders, INTAKES } from './jobs/intake.ts';
import { MAKINGS } from './jobs/making.ts';
import { MERGES } from './jobs/merge.ts';
import { watchInbox } from './jobs/inbox.ts';
import { SWEEPS } from './jobs/sweep.ts';
import { MARKS } from './jobs/marks.ts';
import { watchMirrors } from './jobs/mirror.ts';
import { seedDemo } from './demo/seed.ts';
import { listenToOthers } from './live/news.ts';
import { watchPresence } from './live/presence.ts';
import { boundAddress } from './people/setting.ts';
import { welcome } from './people/welcome.ts';
import { storageProblem } from './library/errors.ts';
import { removeLeftovers } from './library/keeping/leftovers.ts';
import { dataDirectory } from './paths.ts';

/** All long work there is. */
const WORKS = [INTAKES, BATCHES, MERGES, SWEEPS, MAKINGS, MARKS];

/** Ending takes no longer, in milliseconds. */
const LONGEST_END = 30_000;

const holder = globalThis as { hollowBasketLibrary?: Promise<Library> };

/**
 * The library this server works on, opened once a process. With DEMO=1 an empty library is filled with the
 * demo's scenario first. Where it cannot be had (another process has it open, the folder
 * cannot be written), the server says so and ends.
 */
export function getLibrary(): Promise<Library> {
  holder.hollowBasketLibrary ??= open().catch((error: unknown) => {
    const sentence = error instanceof LibraryLockedError ? error.message : storageProblem(error);
    if (sentence) {
      console.error(sentence);
      process.exit(1);
    }
    delete holder.hollowBasketLibrary;
    throw error;
  });
  return holder.hollowBasketLibrary;
}

async function open(): Promise<Library> {
  const library = await openLibrary({
    dataDirectory: dataDirectory(),
    databaseUrl: process.env.DATABASE_URL,
    address: boundAddress(),
  });
  if (process.env.DEMO === '1') await seedDemo(library);
  warmThreads();
  // It reads the library before somebody waits for it, and with a word (any) puts together what words are looked for in.
  void catalogOf(library)
    .counts({ text: 'a' })
    .catch((error: unknown) => console.error(error));
  await removeLeftovers(library, { isShared: process.env.DATABASE_URL !== undefined });
  await beginWork(library);
  await closeOrphans(library);
  const ending = new AbortController();
  const takingOver = lookAgain(ending.signal, () => takeOver(library, WORKS));
  watchPresence();
  const others = listenToOthers(library);
  await welcome(library);
  const inbox = watchAlone(library, 'inbox', () => watchInbox(library));
  const mirrors = watchAlone(library, 'mirrors', () => watchMirrors(library));
  for (const signal of ['SIGINT', 'SIGTERM'] as const) {
    process.once(signal, () => {
      ending.abort();
      // What has not ended by then is gone on with at the next start.
      setTimeout(() => process.exit(1), LONGEST_END).unref();
      void Promise.all([others.close(), inbox.close(), mirrors.close(), endRounds()])
        .then(() => takingOver)
        .then(endReaders)
        .then(() => endWork(library))
        .catch((error: unknown) => console.error(error))
        .then(endThreads)
        .then(endCatalog)
        .then(() => library.close())
        .finally(() => process.exit(0));
    });
  }
  return library;
}
