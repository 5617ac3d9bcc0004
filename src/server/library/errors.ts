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
