import { spawnSync } from 'node:child_process';
import { closeSync, ftruncateSync, openSync, readFileSync, writeSync } from 'node:fs';
import { join } from 'node:path';

/** Who has a library open, as its lock file says. */
export interface LockHolder {
  pid: number;
  /** Where it can be reached, such as http://127.0.0.1:4321, or what it is doing. */
  address: string;
  /** Folder of the database's socket. */
  socketDirectory: string;
}

/** Thrown when another process has the library open. The message names it. */
export class LibraryLockedError extends Error {
  override readonly name = 'LibraryLockedError';
  constructor(
    readonly dataDirectory: string,
    readonly holder: LockHolder | null,
  ) {
    super(
      `The library in ${dataDirectory} is open in another process` +
        (holder ? ` (${holder.pid}, ${holder.address})` : '') +
        '. Close it first, or choose another folder with DATA_DIR.',
    );
  }
}

export interface Lock {
  /** Writes who holds the lock. */
  describe(holder: LockHolder): void;
  release(): void;
}

const BUSY = 1;

/**
 * Takes the lock on a data folder, or refuses. PGlite does not notice a second process on its files and
 * damages them, so this comes before the first open. The lock belongs to an open file descriptor: the kernel
 * frees it however the process ends.
 *
 * @throws LibraryLockedError where another process has it.
 */
export function takeLock(dataDirectory: string): Lock {
  const path = join(dataDirectory, 'lock');
  const descriptor = openSync(path, 'a+');
  // util-linux's flock locks the descriptor it inherits as its third; the lock stays with ours.
  const { status, error } = spawnSync('flock', ['-n', '-x', '3'], {
    stdio: ['ignore', 'ignore', 'ignore', descriptor],
  });
  if (error || status !== 0) {
    closeSync(descriptor);
    if (!error && status === BUSY) throw new LibraryLockedError(dataDirectory, readHolder(dataDirectory));
    throw new Error(
      `The library in ${dataDirectory} cannot be locked: the command "flock" (util-linux) is needed.`,
    );
  }
  return {
    describe(holder) {
      ftruncateSync(descriptor);
      writeSync(descriptor, JSON.stringify(holder), 0);
    },
    release() {
      ftruncateSync(descriptor);
      closeSync(descriptor);
    },
  };
}

export function readHolder(dataDirectory: string): LockHolder | null {
  try {
    return JSON.parse(readFileSync(join(dataDirectory, 'lock'), 'utf8')) as LockHolder;
  } catch {
    return null;
  }
}
