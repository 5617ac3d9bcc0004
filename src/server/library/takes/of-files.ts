import { asc } from 'drizzle-orm';
import { among } from '../../db/among.ts';
import type { Db } from '../../db/client.ts';
import { takes } from '../../db/schema.ts';

/** The take that a file was read as, where it is here already. */
export interface TakeOfFile {
  sha256: string;
  takeId: string;
  name: string;
  aside: boolean;
}

/** Which of some files, by their checksums, are here already: of a file of several patterns the first of its takes. */
export function takesOfFiles(db: Db, sha256: readonly string[]): Promise<TakeOfFile[]> {
  return db
    .selectDistinctOn([takes.sha256], {
      sha256: takes.sha256,
      takeId: takes.id,
      name: takes.name,
      aside: takes.aside,
    })
    .from(takes)
    .where(among(takes.sha256, sha256))
    .orderBy(asc(takes.sha256), asc(takes.pattern));
}
