/** Something a person can put right. The message is a sentence; endpoints answer with the status. */
export class LibraryError extends Error {
  override readonly name = 'LibraryError';
  constructor(
    readonly status: 400 | 404 | 409 | 413 | 415 | 422,
    message: string,
  ) {
    super(message);
  }
}

export function notFound(what: string): LibraryError {
  return new LibraryError(404, `There is no such ${what}. It may have been removed in another window.`);
}

const STORAGE_SENTENCES: Record<string, string> = {
  ENOSPC: 'The disk is full',
  EDQUOT: 'The disk quota is used up',
  EROFS: "The library's folder is read-only",
  EACCES: "The library's folder may not be written",
  EPERM: "The library's folder may not be written",
  EEXIST: "The library's folder is a file",
  ENOTDIR: "The library's folder is a file",
  // PostgreSQL's own code for a full disk.
  '53100': 'The disk is full',
};

/** A sentence for what the disk refused, wherever in the chain of causes it stands; undefined for other errors. */
export function storageProblem(error: unknown): string | undefined {
  for (let at = error; at instanceof Error; at = at.cause) {
    const what = STORAGE_SENTENCES[(at as NodeJS.ErrnoException).code ?? ''];
    if (what)
      return `${what}. Nothing was changed; make room or choose another folder with DATA_DIR, and try again.`;
  }
  return undefined;
}
