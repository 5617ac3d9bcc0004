import { openLibrary, type Library } from './db/client.ts';
import { LibraryLockedError } from './db/lock.ts';
import { seedDemo } from './library/demo.ts';
import { dataDirectory } from './paths.ts';

const holder = globalThis as { hollowBasketLibrary?: Promise<Library> };

/**
 * The library this server works on, opened once a process. With DEMO=1 an empty library is filled with the
 * demo's scenario first. Where another process has it open, the server says so and ends: it must not serve
 * pages over a library it cannot have.
 */
export function getLibrary(): Promise<Library> {
  holder.hollowBasketLibrary ??= open().catch((error: unknown) => {
    if (error instanceof LibraryLockedError) {
      console.error(error.message);
      process.exit(1);
    }
    delete holder.hollowBasketLibrary;
    throw error;
  });
  return holder.hollowBasketLibrary;
}

async function open(): Promise<Library> {
  const host = process.env.HOST ?? '127.0.0.1';
  const library = await openLibrary({
    dataDirectory: dataDirectory(),
    databaseUrl: process.env.DATABASE_URL,
    address: `http://${host}:${process.env.PORT ?? '4321'}`,
  });
  if (process.env.DEMO === '1') await seedDemo(library);
  for (const signal of ['SIGINT', 'SIGTERM'] as const) {
    process.once(signal, () => {
      void library.close().finally(() => process.exit(0));
    });
  }
  return library;
}
