import { mkdir, rm, writeFile } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { setTimeout as delay } from 'node:timers/promises';
import { Piscina } from 'piscina';
import type { Library } from '../db/client.ts';
import type { IntakeSettings } from '../db/schema.ts';
import {
  addItems,
  closeIntake,
  endJob,
  finishItems,
  getJob,
  openItem,
  runningIntakes,
  waitingItems,
  type ItemOutcome,
  type JobItem,
} from '../library/jobs.ts';
import { keepOriginalNote, syncOriginals } from '../library/keeping/originals.ts';
import { firstOfEach, noteOf, storeTakes, type ReadFile } from '../library/takes/takes.ts';
import { appRoot, isBuilt } from '../paths.ts';
import type { MayGoOn, Work } from './engine.ts';
import type { IntakeAnswer, IntakeTask } from './intake-worker.ts';

/** Files read at once and stored in one transaction. */
const BATCH = 48;

/** Kept over reloads of the code while developing. */
const holder = globalThis as { hollowBasketReaders?: Piscina };

/** The threads that read files: as many as there are cores, and none while nothing is read. */
function readers(): Piscina {
  holder.hollowBasketReaders ??= new Piscina({
    filename: isBuilt
      ? join(appRoot, 'dist/worker/intake-worker.mjs')
      : join(appRoot, 'src/server/jobs/intake-boot.mjs'),
    minThreads: 0,
    maxThreads: Math.max(1, availableParallelism()),
    idleTimeout: 10_000,
    execArgv: [],
  });
  return holder.hollowBasketReaders;
}

/** Ends the reading threads: a command line would otherwise wait for them. */
export async function endReaders(): Promise<void> {
  await holder.hollowBasketReaders?.destroy();
  delete holder.hollowBasketReaders;
}

/** Where files of a job wait that a page has sent. */
export function spoolFolder(library: Pick<Library, 'dataDirectory'>, jobId: string): string {
  return join(library.dataDirectory, 'intake', jobId);
}

/** Writes files that a page has sent to where they wait, and adds them to the job. */
export async function addUploads(
  library: Library,
  jobId: string,
  files: readonly { file: string; bytes: Uint8Array }[],
  name: string,
): Promise<void> {
  const folder = spoolFolder(library, jobId);
  await mkdir(folder, { recursive: true });
  const items = files.map(({ file }, i) => ({ file, path: join(folder, `${name}-${i}`) }));
  await Promise.all(files.map(({ bytes }, i) => writeFile(items[i]!.path, bytes)));
  await addItems(library.db, jobId, items);
}

/** Files that come in, whoever sends or names them. */
export const INTAKES: Work = { kind: 'intake', open: openIntakes, run: takeInWaiting };

/** An intake that gets no more files for so long, in milliseconds, has lost whoever was sending them. */
const LEFT_ALONE = 10 * 60_000;

/** Where a process is alone on its library, whoever was sending files to the one before it is gone: no more of them will come. */
export async function closeOrphans({ db, isAlone }: Pick<Library, 'db' | 'isAlone'>): Promise<void> {
  if (isAlone) for (const { id } of await runningIntakes(db)) await closeIntake(db, id);
}

/** Intakes in which something waits, or that are only to be ended; nobody sends files to one that was left alone. */
async function openIntakes({ db }: Library): Promise<string[]> {
  const open: string[] = [];
  for (const job of await runningIntakes(db)) {
    const isLeft = !job.closed && Date.now() - job.updatedAt.getTime() > LEFT_ALONE;
    if (isLeft) await closeIntake(db, job.id);
    if (job.closed || isLeft || (await waitingItems(db, job.id, -1, 1)).length > 0) open.push(job.id);
  }
  return open;
}

/** A file that is being read, or was. */
interface Reading {
  item: JobItem;
  /** What came of it, and when. */
  answer?: IntakeAnswer;
  readAt?: number;
}

/** A file lets those behind it be stored before it once one of them has waited for it so long, in milliseconds. */
const SLOW = 2000;

/** A file that is read for longer is refused: one must not keep a thread for itself. */
const LONGEST = 60_000;

/**
 * Reads files while those that were read are stored. They are stored in their order, so that of two alike the first
 * counts; one that takes long does not hold up the others.
 */
async function takeInWaiting(library: Library, jobId: string, mayGoOn: MayGoOn): Promise<void> {
  const { db } = library;
  const window: Reading[] = [];
  let storing: Promise<void> = Promise.resolve();
  let after = -1;
  for (;;) {
    const job = await getJob(db, jobId);
    if (job.state !== 'running' || !(await mayGoOn())) break;
    const more = await waitingItems(db, jobId, after, BATCH - window.length);
    for (const item of more) window.push(beginReading(library, jobId, item, job.settings));
    after = more.at(-1)?.position ?? after;
    if (window.length === 0) {
      await storing;
      // Archives that were opened meanwhile have put their files at the end.
      if ((await waitingItems(db, jobId, after, 1)).length > 0) continue;
      if ((await getJob(db, jobId)).closed && !(await waitingItems(db, jobId, -1, 1)).length)
        await endJob(db, jobId, 'done');
      break;
    }
    const done = takeRead(window);
    if (done.length === 0) {
      await delay(LOOK_EVERY);
      continue;
    }
    await storing;
    storing = storeBatch(library, jobId, done, job.settings);
    storing.catch(() => {});
  }
  await storing;
  const { state } = await getJob(db, jobId);
  if (state !== 'running') await rm(spoolFolder(library, jobId), { recursive: true, force: true });
}

/** How often it is looked whether something was read, in milliseconds. */
const LOOK_EVERY = 10;

function beginReading(library: Library, jobId: string, item: JobItem, settings: IntakeSettings): Reading {
  const reading: Reading = { item };
  void readItem(library, jobId, item, settings).then((answer) =>
    Object.assign(reading, { answer, readAt: Date.now() }),
  );
  return reading;
}

/**
 * Takes those out of the window that were read, up to the first that is not; one that is slow is passed over. How long it
 * is read alone tells nothing: a thread may still be starting.
 */
export function takeRead(window: Reading[], now = Date.now()): (Reading & { answer: IntakeAnswer })[] {
  const taken: (Reading & { answer: IntakeAnswer })[] = [];
  const waitLong = window.findLastIndex(({ readAt }) => readAt !== undefined && now - readAt > SLOW);
  for (let at = 0; at < window.length;) {
    const { answer } = window[at]!;
    if (answer) taken.push({ ...window.splice(at, 1)[0]!, answer });
    else if (at + taken.length < waitLong) at++;
    else break;
  }
  return taken;
}

async function readItem(
  library: Library,
  jobId: string,
  item: JobItem,
  settings: IntakeSettings,
): Promise<IntakeAnswer> {
  const task: IntakeTask = {
    path: item.path ?? '',
    file: item.file,
    depth: item.depth,
    settings,
    dataDirectory: library.dataDirectory,
    folder: join(spoolFolder(library, jobId), `${item.position}-inside`),
  };
  try {
    return (await readers().run(task, { signal: AbortSignal.timeout(LONGEST) })) as IntakeAnswer;
  } catch (error) {
    // An archive takes as long as its files are many; a file is not that large.
    const late = error instanceof Error && (error.name === 'AbortError' || error.name === 'TimeoutError');
    if (!late) console.error(error);
    const reason = late
      ? `Reading "${item.file}" took longer than ${LONGEST / 1000} seconds: it was left out.`
      : `"${item.file}" could not be read.`;
    return { kind: 'refused', reason };
  }
}

/** Stores what was read of a batch and what came of each file, in one transaction. */
async function storeBatch(
  library: Library,
  jobId: string,
  done: readonly { item: JobItem; answer: IntakeAnswer }[],
  settings: IntakeSettings,
): Promise<void> {
  const read: (ReadFile & { position: number })[] = [];
  const outcomes: ItemOutcome[] = [];
  for (const { item, answer } of done) {
    const { position } = item;
    if (answer.kind === 'opened') await openItem(library.db, jobId, position, answer.opened);
    else if (answer.kind === 'refused') outcomes.push({ position, state: 'refused', reason: answer.reason });
    else {
      const { sha256, derived, bytes } = answer;
      read.push({ position, sha256, derived, request: { bytes, fileName: item.file, ...settings } });
    }
  }
  await Promise.all(
    firstOfEach(read).map(({ sha256, request }) => keepOriginalNote(library, sha256, noteOf(request))),
  );
  if (read.length > 0) await syncOriginals(library);
  await library.db.transaction(async (tx) => {
    const stored = read.length > 0 ? await storeTakes(tx, read) : [];
    stored.forEach(({ isNew, takeIds }, i) =>
      outcomes.push({ position: read[i]!.position, state: isNew ? 'taken' : 'known', takeId: takeIds[0] }),
    );
    await finishItems(tx, jobId, outcomes);
  });
  // What a page has sent has done its duty; files elsewhere are their owners'.
  const spool = spoolFolder(library, jobId);
  await Promise.all(
    done.map(({ item: { path } }) => (path?.startsWith(spool) ? rm(path, { force: true }) : undefined)),
  );
}
