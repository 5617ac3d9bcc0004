import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { basename, dirname, join, relative, sep } from 'node:path';
import { watch, type FSWatcher } from 'chokidar';
import { asc, eq, isNotNull, sql } from 'drizzle-orm';
import { LRUCache } from 'lru-cache';
import {
  planMirror,
  SET_ASIDE,
  type MirrorPlan,
  type MirrorRow,
  type MirrorWanted,
} from '../../core/exchange/mirror.ts';
import { sha256Of } from '../checksum.ts';
import { compute } from '../compute/pool.ts';
import type { Library } from '../db/client.ts';
import { basketItems, baskets, mirroredFiles, phrases, projects, recipients } from '../db/schema.ts';
import { getBasket, loadBasket, type BasketDetail } from '../library/baskets.ts';
import { diskRefusal, LibraryError } from '../library/errors.ts';

/** So long nothing must have changed before a mirror comes into step, in milliseconds. */
const REST = 1000;

/** Phrases whose files are made at once: their notes are in memory meanwhile. */
const AT_ONCE = 200;

/** What is half written stands here, beside the mirrors and never in them. */
const WRITING = '.writing';

/** How a mirror stands. */
export interface MirrorState {
  basketId: string;
  name: string;
  /** Its folder within the place for mirrors. */
  folder: string;
  /** Files of ours that stand there. */
  files: number;
  /** Something has changed that is not there yet. */
  waits: boolean;
  /** Why it cannot be written; null where it can. */
  problem: string | null;
  /** Files that are not ours, and such of ours that somebody has changed. */
  foreign: string[];
  cameBack: string[];
}

interface Mirrors {
  root: string;
  states: Map<string, MirrorState>;
  /** What each basket was when its mirror was last in step. */
  inStep: Map<string, string>;
  /** What it was a look ago: it is written once it rests. */
  seen: Map<string, string>;
  /** Mirrors in which something was changed from outside. */
  touched: Set<string>;
  watcher: FSWatcher;
  timer: ReturnType<typeof setTimeout> | undefined;
  work: Promise<void>;
  isOver: boolean;
}

const running = new WeakMap<Library, Mirrors>();

/** Where baskets are mirrored to: a folder of the library, or one that the settings name. */
export function mirrorRoot({ dataDirectory }: Pick<Library, 'dataDirectory'>): string {
  return process.env.MIRROR_DIR ?? join(dataDirectory, 'mirror');
}

/**
 * Keeps the mirrored baskets in step, a second after the last change, from now on. Several processes on one database mirror only
 * where they are told a folder of their own.
 */
export async function watchMirrors(library: Library): Promise<{ close(): Promise<void> }> {
  const isShared = process.env.DATABASE_URL !== undefined && process.env.MIRROR_DIR === undefined;
  if (isShared) return { close: () => Promise.resolve() };
  const root = mirrorRoot(library);
  const mirrors: Mirrors = {
    ...{ root, states: new Map(), inStep: new Map(), seen: new Map(), touched: new Set() },
    ...{ timer: undefined, work: Promise.resolve(), isOver: false },
    watcher: watch([], { ignoreInitial: true }),
  };
  running.set(library, mirrors);
  // What was half written when a process died is of no use.
  await rm(join(root, WRITING), { recursive: true, force: true }).catch(() => undefined);
  mirrors.watcher.on('all', (_, path) => mirrors.touched.add(relative(root, path).split(sep)[0]!));
  mirrors.watcher.on('error', (error) => console.error(error));
  const look = () => {
    mirrors.timer = setTimeout(() => {
      mirrors.work = lookAt(library, mirrors)
        .catch((error: unknown) => console.error(error))
        .then(() => {
          if (!mirrors.isOver) look();
        });
    }, REST);
  };
  look();
  return {
    close: async () => {
      mirrors.isOver = true;
      clearTimeout(mirrors.timer);
      await mirrors.work;
      await mirrors.watcher.close();
    },
  };
}

/** The place for mirrors, and how each of them stands. */
export function mirrorsOf(library: Library): { root: string; mirrors: MirrorState[] } {
  const mirrors = running.get(library);
  const states = [...(mirrors?.states.values() ?? [])];
  return { root: mirrorRoot(library), mirrors: states.sort((a, b) => a.name.localeCompare(b.name)) };
}

/** Brings into step what has rested since the last look. */
async function lookAt(library: Library, mirrors: Mirrors): Promise<void> {
  const found = await stamps(library);
  for (const id of mirrors.states.keys()) {
    if (found.some((one) => one.id === id)) continue;
    const { folder } = mirrors.states.get(id)!;
    mirrors.states.delete(id);
    mirrors.inStep.delete(id);
    mirrors.watcher.unwatch(join(mirrors.root, folder));
  }
  for (const { id, name, folder, stamp, way } of found) {
    const before = mirrors.states.get(id);
    const isChanged =
      mirrors.inStep.get(id) !== stamp || mirrors.touched.has(folder) || Boolean(before?.problem);
    const rests = mirrors.seen.get(id) === stamp || !before;
    mirrors.seen.set(id, stamp);
    const state = before ?? newState(id, name, folder);
    mirrors.states.set(id, { ...state, name, folder, waits: isChanged });
    if (!isChanged || !rests || mirrors.isOver) continue;
    mirrors.touched.delete(folder);
    try {
      mirrors.states.set(id, await bringIntoStep(library, { id, name, folder, way }));
      mirrors.inStep.set(id, stamp);
      mirrors.watcher.add(join(mirrors.root, folder));
    } catch (error) {
      mirrors.states.set(id, { ...state, waits: true, problem: reasonOf(error, folder) });
    }
  }
}

const newState = (basketId: string, name: string, folder: string): MirrorState => ({
  ...{ basketId, name, folder, files: 0, waits: true, problem: null, foreign: [], cameBack: [] },
});

function reasonOf(error: unknown, folder: string): string {
  const refusal = diskRefusal(error, `The folder "${folder}"`);
  if ((error as NodeJS.ErrnoException).code === 'ENOENT')
    return `The folder "${folder}" vanished while it was written. It is tried again every second.`;
  if (refusal) return `${refusal}. It is tried again every second.`;
  console.error(error);
  return `The folder "${folder}" could not be brought into step.`;
}

/** A mirrored basket: `way` stands for all that decides how its phrases leave. */
interface Mirrored {
  id: string;
  name: string;
  folder: string;
  way: string;
}

/** The mirrored baskets, and what each of them is: another stamp says that something of it has changed. */
async function stamps({ db }: Library): Promise<(Mirrored & { stamp: string })[]> {
  const rows = await db
    .select({
      id: baskets.id,
      name: baskets.name,
      folder: baskets.mirror,
      way: sql<string>`md5(concat(${baskets.out}::text, ${baskets.layout}, ${projects}::text, ${recipients.card}::text))`,
      stamp: sql<string>`md5(concat(${baskets}::text, ${projects}::text, ${recipients.card}::text, (
        select string_agg(${phrases.id}::text || ${phrases.changed}::text || ${phrases.updatedAt}::text, ',' order by ${basketItems.position})
        from ${basketItems} join ${phrases} on ${phrases.id} = ${basketItems.phraseId} where ${basketItems.basketId} = ${baskets.id})))`,
    })
    .from(baskets)
    .leftJoin(projects, eq(projects.id, baskets.projectId))
    .leftJoin(recipients, eq(recipients.id, baskets.recipientId))
    .where(isNotNull(baskets.mirror))
    .orderBy(asc(baskets.createdAt));
  return rows.map((row) => ({ ...row, folder: row.folder! }));
}

/** What phrases were made to, by their versions and the way they leave: of thousands a few change at a time. */
const made = new LRUCache<string, MirrorWanted[]>({ max: 50_000 });

/** What a folder has to become, from what stands there and what is in its basket. @throws LibraryError 404 */
async function planFor(library: Library, { id, folder, way }: Mirrored, tidy: boolean): Promise<MirrorPlan> {
  const { db } = library;
  const { items } = await getBasket(db, id);
  const keys = items.map((item) => [item.id, item.version, item.file, way].join(' '));
  const missing = items.filter((_, i) => !made.has(keys[i]!));
  for (let at = 0; at < missing.length; at += AT_ONCE) {
    const some = missing.slice(at, at + AT_ONCE);
    const files = await filesOf(library, id, some);
    for (const item of some) {
      const own = files.filter(({ phraseId }) => phraseId === item.id);
      made.set(
        keys[items.indexOf(item)]!,
        own.map(({ phraseId, piece, path, sha256 }) => ({ phraseId, piece, path, sha256 })),
      );
    }
  }
  const known = await db.select().from(mirroredFiles).where(eq(mirroredFiles.basketId, id));
  const disk = await checksums(join(mirrorRoot(library), folder));
  return planMirror(
    known,
    keys.flatMap((key) => made.get(key) ?? []),
    disk,
    { tidy },
  );
}

type Item = BasketDetail['items'][number];

/** The files of some phrases of a basket, under the names that it shows. */
async function filesOf({ db }: Library, basketId: string, items: readonly Pick<Item, 'id' | 'file'>[]) {
  const ids = items.map((item) => item.id);
  const { handOff } = await loadBasket(db, basketId, new Date(0).toISOString(), ids);
  const names = new Map(items.map((item) => [item.id, item.file.replace(/\.mid$/, '')]));
  return compute(
    'mirroredFiles',
    handOff,
    handOff.phrases.map((phrase) => names.get(phrase.id)!),
  );
}

async function bringIntoStep(library: Library, mirrored: Mirrored, tidy = false): Promise<MirrorState> {
  const { id, name, folder } = mirrored;
  const root = mirrorRoot(library);
  const place = join(root, folder);
  await mkdir(place, { recursive: true });
  await mkdir(join(root, WRITING), { recursive: true });
  const plan = await planFor(library, mirrored, tidy);
  await moveAll(root, place, plan.moves);
  await writeAll(library, mirrored, place, plan.writes);
  await keepRows(library, id, plan.rows);
  return {
    ...newState(id, name, folder),
    waits: false,
    files: plan.rows.filter(({ state }) => state === 'ours').length,
    foreign: plan.foreign.sort(),
    cameBack: plan.rows.filter(({ state }) => state === 'came back').map(({ path }) => path),
  };
}

/** Names that change places go by a place of their own; everything else at once. */
async function moveAll(root: string, place: string, moves: MirrorPlan['moves']): Promise<void> {
  const leaving = new Set(moves.map(({ from }) => from));
  const lifted: { by: string; to: string }[] = [];
  for (const { from, to } of moves) {
    const isFree = !leaving.has(to);
    const target = isFree ? join(place, to) : join(root, WRITING, randomUUID());
    await mkdir(dirname(target), { recursive: true });
    await rename(join(place, from), target);
    if (!isFree) lifted.push({ by: target, to });
  }
  for (const { by, to } of lifted) await rename(by, join(place, to));
}

/** Each file appears whole under its name or not at all: it is written elsewhere, and moved. */
async function writeAll(
  library: Library,
  { id }: Mirrored,
  place: string,
  writes: readonly MirrorWanted[],
): Promise<void> {
  const { items } = await getBasket(library.db, id);
  const phraseIds = new Set(writes.map(({ phraseId }) => phraseId));
  const some = items.filter((item) => phraseIds.has(item.id));
  for (let at = 0; at < some.length; at += AT_ONCE) {
    const files = await filesOf(library, id, some.slice(at, at + AT_ONCE));
    for (const { phraseId, piece, bytes } of files) {
      const target = writes.find((one) => one.phraseId === phraseId && one.piece === piece);
      if (target) await writeWhole(join(mirrorRoot(library), WRITING), join(place, target.path), bytes);
    }
  }
}

async function writeWhole(writing: string, path: string, bytes: Uint8Array): Promise<void> {
  const by = join(writing, randomUUID());
  try {
    await writeFile(by, bytes, { flag: 'wx', flush: true });
    await mkdir(dirname(path), { recursive: true });
    await rename(by, path);
  } catch (error) {
    await rm(by, { force: true });
    throw error;
  }
}

async function keepRows({ db }: Library, basketId: string, rows: readonly MirrorRow[]): Promise<void> {
  await db.transaction(async (tx) => {
    await tx.delete(mirroredFiles).where(eq(mirroredFiles.basketId, basketId));
    for (let at = 0; at < rows.length; at += 1000)
      await tx
        .insert(mirroredFiles)
        .values(rows.slice(at, at + 1000).map((row) => ({ basketId, ...row })))
        .onConflictDoNothing();
  });
}

/** Checksums of the files in a folder and below it, by their paths with slashes; hidden ones are none. */
async function checksums(folder: string): Promise<Map<string, string>> {
  const sums = new Map<string, string>();
  if (!existsSync(folder)) return sums;
  for (const entry of await readdir(folder, { recursive: true, withFileTypes: true })) {
    if (!entry.isFile() || entry.name.startsWith('.')) continue;
    const path = join(entry.parentPath, entry.name);
    // Taken away while it was looked at: it is not there.
    const bytes = await readFile(path).catch(() => null);
    if (bytes) sums.set(relative(folder, path).split(sep).join('/'), sha256Of(bytes));
  }
  return sums;
}

/** What tidying the names of a mirror would move, or has moved. @throws LibraryError 404 */
export async function tidyMirror(
  library: Library,
  id: string,
  { apply }: { apply: boolean },
): Promise<{ moves: { from: string; to: string }[] }> {
  const mirrored = (await stamps(library)).find((one) => one.id === id);
  if (!mirrored) throw new LibraryError(404, 'That basket is not mirrored.');
  const plan = await planFor(library, mirrored, true);
  const moves = plan.moves.filter(({ to }) => !to.startsWith(`${SET_ASIDE}/`));
  if (!apply || moves.length === 0) return { moves };
  const mirrors = running.get(library);
  await mirrors?.work;
  mirrors?.states.set(id, await bringIntoStep(library, mirrored, true));
  return { moves };
}

/** The files of a mirror that are not ours, and those of ours that were changed: their paths on the disk, to be taken in. */
export function offeredIn(library: Library, id: string): { file: string; path: string }[] {
  const state = running.get(library)?.states.get(id);
  if (!state) return [];
  return [...state.foreign, ...state.cameBack].map((file) => ({
    file: `${basename(state.folder)}/${file}`,
    path: join(mirrorRoot(library), state.folder, file),
  }));
}
