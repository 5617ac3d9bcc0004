import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { Worker } from 'node:worker_threads';
import { wrap, type Remote } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import type { Library } from '../db/client.ts';
import { appRoot, isBuilt } from '../paths.ts';
import type { Questions } from './catalog-worker.ts';

/** Kept over reloads of the code while developing. */
const holder = globalThis as { hollowBasketCatalog?: { worker: Worker; questions: Remote<Questions> } };

/**
 * What finds phrases: all that they are found by stands in columns in a thread of its own, which reads from the library what is new
 * to it before it answers (decision 0017).
 */
export function catalogOf({
  address,
  dataDirectory,
}: Pick<Library, 'address' | 'dataDirectory'>): Remote<Questions> {
  holder.hollowBasketCatalog ??= start(address, join(dataDirectory, 'catalog.snapshot'));
  return holder.hollowBasketCatalog.questions;
}

function start(
  address: Library['address'],
  snapshotPath: string,
): { worker: Worker; questions: Remote<Questions> } {
  const worker = isBuilt
    ? new Worker(join(appRoot, 'dist/worker/catalog-worker.mjs'), {
        workerData: { address, snapshotPath },
        execArgv: [],
      })
    : new Worker(join(appRoot, 'src/server/boot.mjs'), {
        execArgv: [],
        workerData: {
          address,
          snapshotPath,
          entry: pathToFileURL(join(appRoot, 'src/server/catalog/catalog-worker.ts')).href,
        },
      });
  worker.once('error', (error) => {
    console.error(error);
    delete holder.hollowBasketCatalog;
  });
  // It keeps no process from ending.
  worker.unref();
  return { worker, questions: wrap<Questions>(nodeEndpoint(worker)) };
}

export async function endCatalog(): Promise<void> {
  const held = holder.hollowBasketCatalog;
  delete holder.hollowBasketCatalog;
  if (!held) return;
  await held.questions.close();
  await held.worker.terminate();
}
