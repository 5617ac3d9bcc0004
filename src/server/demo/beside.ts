import { spawn, type ChildProcess } from 'node:child_process';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { setTimeout as delay } from 'node:timers/promises';
import { readHolder } from '../db/lock.ts';
import { LibraryError } from '../library/errors.ts';
import { appRoot, demoDirectory, isBuilt } from '../paths.ts';

/** Filling the demo's library for the first time takes so long at the most, in milliseconds. */
const PATIENCE = 120_000;

let beside: Promise<string> | undefined;

/**
 * The address of the demo's library, which is opened beside the user's own by a process of its own: nothing of it gets into
 * the other. Where it is open already, that is answered. @throws LibraryError 409 where it cannot be opened
 */
export function demoBeside(): Promise<string> {
  beside ??= openBeside().catch((error: unknown) => {
    beside = undefined;
    throw error;
  });
  return beside;
}

async function openBeside(): Promise<string> {
  const open = readHolder(demoDirectory)?.address;
  if (open && (await answers(open))) return open;
  if (!isBuilt) throw new LibraryError(409, 'The demo is opened with "npm run demo" here.');
  const port = await freePort();
  const address = `http://127.0.0.1:${port}`;
  const child = spawn(process.execPath, [join(appRoot, 'dist/server/entry.mjs')], {
    cwd: appRoot,
    stdio: 'ignore',
    env: {
      ...process.env,
      HOST: '127.0.0.1',
      PORT: String(port),
      DEMO: '1',
      DATA_DIR: demoDirectory,
      DATABASE_URL: '',
    },
  });
  // It ends with the library it was opened from.
  process.once('exit', () => child.kill());
  const until = Date.now() + PATIENCE;
  while (Date.now() < until && !hasEnded(child)) {
    if (await answers(address)) return address;
    await delay(200);
  }
  child.kill();
  throw new LibraryError(409, 'The demo could not be opened. "npm run demo" says why.');
}

function hasEnded(child: ChildProcess): boolean {
  return child.exitCode !== null || child.signalCode !== null;
}

async function answers(address: string): Promise<boolean> {
  try {
    return (await fetch(`${address}/api/status`)).ok;
  } catch {
    return false;
  }
}

function freePort(): Promise<number> {
  return new Promise((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });
}
