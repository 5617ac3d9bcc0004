import { readdirSync, statSync } from 'node:fs';
import { basename, join, relative, resolve } from 'node:path';
import { eq, inArray, sql } from 'drizzle-orm';
import type { Library } from '../server/db/client.ts';
import { jobItems, parts } from '../server/db/schema.ts';
import { beginWork, endWork } from '../server/jobs/holds.ts';
import { finish } from '../server/jobs/engine.ts';
import { INTAKES } from '../server/jobs/intake.ts';
import {
  intakeOf,
  getJob,
  itemsOf,
  runningIntakes,
  type JobWithCounts,
  type NewItem,
} from '../server/library/jobs.ts';
import { withLibrary, type LibraryOptions } from './library.ts';
import { Refusal, table, type Output } from './output.ts';

export interface IntakeOptions extends LibraryOptions {
  source?: string;
  contributor?: string;
  rights?: string;
}

const LOOKED_AT = /\.(midi?|smf|kar|rmi|zip)$/i;

/** How often progress is told, in milliseconds. */
const EVERY = 1000;

/**
 * `intake PATH…`: files, folders and archives into the library. An intake that was broken off goes on first. Returns
 * the exit code: 1 where a file was refused.
 */
export async function intakeCommand(
  paths: readonly string[],
  options: IntakeOptions,
  out: Output,
): Promise<number> {
  const started = Date.now();
  const items = paths.flatMap(filesAt);
  return withLibrary(options, true, async (library) => {
    await beginWork(library);
    const job = await jobFor(library, items, options);
    await finishJob(library, job.id, out);
    const answer = await answerOf(library, job.id, (Date.now() - started) / 1000);
    const { refused } = answer;
    if (out.json) out.answer(JSON.stringify(answer));
    else {
      if (refused.length > 0)
        out.answer(table([['refused', 'why'], ...refused.map((one) => [one.file, one.reason])]));
      out.answer(
        `${answer.taken} taken in, ${answer.known} known, ${refused.length} refused; ` +
          `${answer.parts} parts, in ${answer.seconds.toFixed(1)} s.`,
      );
    }
    await endWork(library);
    return refused.length > 0 ? 1 : 0;
  });
}

/** A file itself; of a folder, every file below it that looks like MIDI or an archive. @throws Refusal */
function filesAt(path: string): NewItem[] {
  const absolute = resolve(path);
  let isFolder: boolean;
  try {
    isFolder = statSync(absolute).isDirectory();
  } catch {
    throw new Refusal(`${path}: there is no such file or folder.`);
  }
  if (!isFolder) return [{ file: basename(absolute), path: absolute }];
  return readdirSync(absolute, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && LOOKED_AT.test(entry.name))
    .map((entry) => join(entry.parentPath, entry.name))
    .sort()
    .map((file) => ({ file: join(basename(absolute), relative(absolute, file)), path: file }));
}

/** The job of an earlier command over the same files that did not come to its end, or a new one. */
async function jobFor({ db }: Library, items: readonly NewItem[], options: IntakeOptions) {
  const wanted = items.map(({ path }) => path);
  for (const job of await runningIntakes(db)) {
    if (job.origin !== 'command') continue;
    const rows = await db
      .select({ path: jobItems.path })
      .from(jobItems)
      .where(eq(jobItems.jobId, job.id))
      .orderBy(jobItems.position);
    // What has been dealt with has no path any more; what waits tells whether it is the same.
    const waiting = rows.flatMap(({ path }) => path ?? []);
    if (waiting.length > 0 && waiting.every((path) => wanted.includes(path) || path.includes('-inside')))
      return job;
  }
  const { source, contributor, rights } = options;
  return intakeOf(db, 'command', { source, contributor, rights }, items);
}

async function finishJob(library: Library, id: string, out: Output): Promise<void> {
  const telling = setInterval(
    () => void getJob(library.db, id).then((job) => out.problem(progressOf(job))),
    EVERY,
  );
  try {
    await finish(library, INTAKES, id);
  } finally {
    clearInterval(telling);
  }
}

function progressOf({ counts }: JobWithCounts): string {
  const done = counts.taken + counts.known + counts.refused;
  return `${done} of ${done + counts.waiting}`;
}

async function answerOf({ db }: Library, id: string, seconds: number) {
  const { counts } = await getJob(db, id);
  const refused = await itemsOf(db, id, { state: 'refused', limit: 1_000_000 });
  const [row] = await db
    .select({ parts: sql<number>`count(*)::int` })
    .from(parts)
    .where(
      inArray(
        parts.takeId,
        db
          .select({ id: jobItems.takeId })
          .from(jobItems)
          .where(sql`${jobItems.jobId} = ${id} and ${jobItems.state} = 'taken'`),
      ),
    );
  return {
    taken: counts.taken,
    known: counts.known,
    refused: refused.map(({ file, reason }) => ({ file, reason: reason ?? '' })),
    parts: row?.parts ?? 0,
    // Taking in makes parts; phrases are made by people.
    phrases: 0,
    seconds,
  };
}
