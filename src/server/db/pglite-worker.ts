/**
 * PGlite behind a Unix socket, in a thread of its own: a heavy query then stops no page, and every client,
 * the command line in another process included, speaks to it through the one driver.
 */
import { parentPort, workerData } from 'node:worker_threads';
import { PGlite } from '@electric-sql/pglite';
import { pg_trgm } from '@electric-sql/pglite/contrib/pg_trgm';
import { PGLiteSocketServer } from '@electric-sql/pglite-socket';

const { dataDirectory, socketPath } = workerData as { dataDirectory: string; socketPath: string };

const db = await PGlite.create(dataDirectory, { extensions: { pg_trgm } });
const server = new PGLiteSocketServer({ db, path: socketPath, maxConnections: 16 });
await server.start();

parentPort?.on('message', async () => {
  await server.stop();
  await db.close();
  parentPort?.postMessage('closed');
});
parentPort?.postMessage('ready');
