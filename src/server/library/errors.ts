/** Something a person can put right. The message is a sentence; endpoints answer with the status. */
export class LibraryError extends Error {
  override readonly name = 'LibraryError';
  constructor(
    readonly status: 400 | 401 | 403 | 404 | 409 | 413 | 415 | 422 | 429,
    message: string,
  ) {
    super(message);
  }
}

export function notFound(what: string): LibraryError {
  return new LibraryError(404, `There is no such ${what}. It may have been removed in another window.`);
}

/** What the disk refused of a folder, by the codes of Node and of PostgreSQL. */
const REFUSALS: Record<string, (folder: string) => string> = {
  ENOSPC: () => 'The disk is full',
  EDQUOT: () => 'The disk quota is used up',
  EROFS: (folder) => `${folder} is read-only`,
  EACCES: (folder) => `${folder} may not be written`,
  EPERM: (folder) => `${folder} may not be written`,
  EEXIST: (folder) => `${folder} is a file`,
  ENOTDIR: (folder) => `${folder} is a file`,
  // PostgreSQL's own code for a full disk.
  '53100': () => 'The disk is full',
};

/** What the disk refused of a folder, wherever in the chain of causes it stands; undefined for other errors. */
export function diskRefusal(error: unknown, folder: string): string | undefined {
  for (const { code } of causesOf(error)) {
    const said = REFUSALS[code ?? ''];
    if (said) return said(folder);
  }
  return undefined;
}

/** An error and what it came of, the last first. */
function* causesOf(error: unknown): Generator<NodeJS.ErrnoException> {
  for (let at = error; at instanceof Error; at = at.cause) yield at;
}

/** A sentence for what the disk refused, wherever in the chain of causes it stands; undefined for other errors. */
export function storageProblem(error: unknown): string | undefined {
  const what = diskRefusal(error, "The library's folder");
  return (
    what && `${what}. Nothing was changed; make room or choose another folder with DATA_DIR, and try again.`
  );
}

/** Codes of a database that cannot be reached, or has ended a connection: of Node, and of PostgreSQL (its documentation, "Error Codes", class 57). A pool that this process has ended is as far away. */
const AWAY = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'ENOENT',
  'EPIPE',
  'ETIMEDOUT',
  '57P01',
  '57P02',
  '57P03',
  '08006',
  '08003',
  '08001',
]);

/** A sentence where the database is away, wherever in the chain of causes it stands; undefined for other errors. */
export function awayProblem(error: unknown): string | undefined {
  const isAway = [...causesOf(error)].some(
    ({ code, message }) =>
      AWAY.has(code ?? '') ||
      /Connection terminated|not queryable|connection timeout|after calling end on the pool/i.test(message),
  );
  return isAway
    ? 'The database cannot be reached just now. Nothing was changed; try again in a moment.'
    : undefined;
}
