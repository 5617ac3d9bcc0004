import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { simpleQuery, type QueryQueue } from './query-queue.ts';

/** What PostgreSQL keeps of its log after a checkpoint, in megabytes: the files are written over by what comes next. */
const KEPT = 64;

/** Settings of PGlite's PostgreSQL by which its log is as small after a checkpoint. */
export const LOG_SETTINGS = ['-c', `max_wal_size=${KEPT}MB`, '-c', 'min_wal_size=32MB'];

/** Files of the log, of 16 MB each, that ask for a checkpoint. */
const MOST_FILES = 8;

/** How often it is looked, in milliseconds. */
const LOOK_EVERY = 1000;

/** Whom the queue knows as the one who asks: clients count from 0. */
const NOBODY = -1;

/**
 * PGlite's PostgreSQL is one process without helpers, and writes a checkpoint when it is closed and never before: its log grew for as long
 * as a server ran, by gigabytes in an intake, and after a kill all of it was read again. @returns what ends it
 */
export function writeCheckpoints(queue: Pick<QueryQueue, 'enqueue'>, dataDirectory: string): () => void {
  let isWriting = false;
  const look = async () => {
    if (isWriting || (await logFiles(dataDirectory)) <= MOST_FILES) return;
    isWriting = true;
    await queue.enqueue(NOBODY, simpleQuery('CHECKPOINT'), () => {}).catch(console.error);
    isWriting = false;
  };
  const timer = setInterval(() => void look(), LOOK_EVERY);
  return () => clearInterval(timer);
}

async function logFiles(dataDirectory: string): Promise<number> {
  return (await readdir(join(dataDirectory, 'pg_wal'), { withFileTypes: true })).filter((one) => one.isFile())
    .length;
}
