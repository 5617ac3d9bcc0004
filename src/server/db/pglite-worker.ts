/**
 * PGlite behind a Unix socket, in a thread of its own: a heavy query then stops no page, and every client,
 * the command line in another process included, speaks to it through the one driver.
 */
import { createServer } from 'node:net';
import { setFlagsFromString } from 'node:v8';
import { parentPort, workerData } from 'node:worker_threads';
import { PGlite } from '@electric-sql/pglite';
import { pg_trgm } from '@electric-sql/pglite/contrib/pg_trgm';
import { PGLiteSocketHandler, type PGLiteSocketHandlerOptions } from '@electric-sql/pglite-socket';
import { LOG_SETTINGS, writeCheckpoints } from './checkpoints.ts';
import { QueryQueue } from './query-queue.ts';

const { dataDirectory, socketPath } = workerData as { dataDirectory: string; socketPath: string };

/**
 * V8 compiles functions of WebAssembly anew, and well, once they have run so many bytes of it. By default that is so soon that beginning costs
 * 4.8 s of processor time in place of 3.1; what runs for longer than moments is compiled well nevertheless.
 */
setFlagsFromString('--wasm-tiering-budget=200000000');

const startParams = [...PGlite.defaultStartParams, ...LOG_SETTINGS];
const db = await PGlite.create(dataDirectory, { extensions: { pg_trgm }, startParams });
const queue = new QueryQueue(db);
const queryQueue = queue as unknown as PGLiteSocketHandlerOptions['queryQueue'];
const endCheckpoints = writeCheckpoints(queue, dataDirectory);
const handlers = new Set<PGLiteSocketHandler>();

const server = createServer((socket) => {
  const handler = new PGLiteSocketHandler({ queryQueue, closeOnDetach: true });
  handlers.add(handler);
  for (const ending of ['close', 'error']) handler.addEventListener(ending, () => handlers.delete(handler));
  void handler.attach(socket);
});
server.listen(socketPath, () => parentPort?.postMessage('ready'));

parentPort?.on('message', async () => {
  endCheckpoints();
  server.close();
  await Promise.all([...handlers].map((handler) => handler.detach(true)));
  await db.close();
  parentPort?.postMessage('closed');
});
