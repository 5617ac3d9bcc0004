import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { openLibrary, type Library } from '../server/db/client.ts';
import { backUp, rebuild, restore } from '../server/library/keeping/backup.ts';
import { dataDirectory } from '../server/paths.ts';
import { Refusal, type Output } from './output.ts';

export interface LibraryOptions {
  data?: string;
  json?: boolean;
}

/** `backup FILE`: joins a running server's library, so that nothing has to be stopped for it. */
export async function backupCommand(file: string, options: LibraryOptions, out: Output): Promise<void> {
  const { rows } = await withLibrary(options, true, (library) => backUp(library, file));
  out.answer(out.json ? JSON.stringify({ file, rows }) : `${rows} rows written to ${file}.`);
}

/** `restore FILE` */
export async function restoreCommand(file: string, options: LibraryOptions, out: Output): Promise<void> {
  if (!existsSync(file)) throw new Refusal(`${file}: there is no such file.`);
  const { rows } = await withLibrary(options, false, (library) => restore(library, file));
  out.answer(out.json ? JSON.stringify({ file, rows }) : `${rows} rows restored from ${file}.`);
}

/** `rebuild`. Returns the exit code: 1 where a file under originals/ is damaged. */
export async function rebuildCommand(options: LibraryOptions, out: Output): Promise<number> {
  const result = await withLibrary(options, false, (library) =>
    rebuild(library, (done, total) => {
      if (done % 100 === 0 || done === total) out.problem(`${done} of ${total}`);
    }),
  );
  for (const name of result.damaged)
    out.problem(`originals/${name} is damaged: its bytes are not those it is named by.`);
  out.answer(
    out.json ? JSON.stringify(result) : `${result.taken} files taken in again, ${result.known} were there.`,
  );
  return result.damaged.length > 0 ? 1 : 0;
}

/** Opens the library for one piece of work; `join`: also where a running server has it open. */
export async function withLibrary<T>(
  options: LibraryOptions,
  join: boolean,
  work: (library: Library) => Promise<T>,
): Promise<T> {
  const library = await openLibrary({
    dataDirectory: options.data ? resolve(options.data) : dataDirectory(),
    databaseUrl: process.env.DATABASE_URL,
    join,
  });
  try {
    return await work(library);
  } finally {
    await library.close();
  }
}
