import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, readdir, readFile, rename, rm } from 'node:fs/promises';
import { dirname, join, relative, sep } from 'node:path';
import { watch, type FSWatcher } from 'chokidar';
import { asc, eq, isNotNull, sql } from 'drizzle-orm';
import equal from 'fast-deep-equal';
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
import { inPieces } from '../db/in-pieces.ts';
import { basketItems, baskets, mirroredFiles, phrases, projects, recipients } from '../db/schema.ts';
import { writeWhole } from '../whole-file.ts';
import { tellProgress } from '../live/progress.ts';
import { getBasket, type BasketDetail } from '../library/handoff/baskets.ts';
import { loadBasket } from '../library/handoff/phrases-out.ts';
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
      void inTurn(mirrors, () => lookAt(library, mirrors))
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

/** Does something to the mirrors once what is being done to them is done: one thing at a time. */
function inTurn<Value>(mirrors: Mirrors, work: () => Promise<Value>): Promise<Value> {
  const done = mirrors.work.then(work);
  mirrors.work = done.then(
    () => undefined,
    () => undefined,
  );
  return done;
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
    setState(library, mirrors, { ...state, name, folder, waits: isChanged });
    if (!isChanged || !rests || mirrors.isOver) continue;
    mirrors.touched.delete(folder);
    try {
      setState(library, mirrors, await bringIntoStep(library, { id, name, folder, way }));
      mirrors.inStep.set(id, stamp);
      mirrors.watcher.add(join(mirrors.root, folder));
    } catch (error) {
      setState(library, mirrors, { ...state, waits: true, problem: reasonOf(error, folder) });
    }
  }
}

/** Keeps how a mirror stands, and tells it where that is new. */
function setState(library: Library, mirrors: Mirrors, state: MirrorState): void {
  const { basketId } = state;
  if (!equal(mirrors.states.get(basketId), state))
    tellProgress(library, { work: 'mirror', id: basketId, isOver: true });
  mirrors.states.set(basketId, state);
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
        select string_agg(${phrases.id}::text || ${phrases.changed}::text || ${phrases.updatedAt}::text || coalesce(${basketItems.own}::text, ''), ',' order by ${basketItems.position})
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

/** A file that was made just now, with its bytes. */
type MadeFile = Awaited<ReturnType<typeof filesOf>>[number];

/**
 * What a folder has to become, from what stands there and what is in its basket; and the files that had to be made to know it.
 * @throws LibraryError 404
 */
async function planFor(
  library: Library,
  { id, folder, way }: Mirrored,
  tidy: boolean,
): Promise<{ plan: MirrorPlan; fresh: MadeFile[]; items: Item[] }> {
  const { db } = library;
  const { items } = await getBasket(db, id);
  const keyOf = (item: Item) =>
    [item.id, item.version, item.file, item.heading, JSON.stringify(item.own), way].join(' ');
  const missing = items.filter((item) => !made.has(keyOf(item)));
  const fresh = await filesInTurn(library, id, missing);
  const own = new Map<string, MirrorWanted[]>(missing.map((item) => [item.id, []]));
  for (const file of fresh) own.get(file.phraseId)?.push(withoutBytes(file));
  for (const item of missing) made.set(keyOf(item), own.get(item.id)!);
  const wanted = items.flatMap((item) => own.get(item.id) ?? made.get(keyOf(item)) ?? []);
  const known = await db.select().from(mirroredFiles).where(eq(mirroredFiles.basketId, id));
  const disk = await checksums(join(mirrorRoot(library), folder));
  return { plan: planMirror(known, wanted, disk, { tidy }), fresh, items };
}

function withoutBytes({ phraseId, piece, path, sha256 }: MadeFile): MirrorWanted {
  return { phraseId, piece, path, sha256 };
}

/** The files of some phrases, some at a time: their notes are in memory meanwhile. */
async function filesInTurn(library: Library, basketId: string, items: readonly Item[]): Promise<MadeFile[]> {
  const files: MadeFile[] = [];
  for (const some of inPieces(items, AT_ONCE)) files.push(...(await filesOf(library, basketId, some)));
  return files;
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
  const { plan, fresh, items } = await planFor(library, mirrored, tidy);
  await moveAll(root, place, plan.moves);
  // What was known already and is gone from the disk has to be made again.
  const known = new Set(fresh.map(({ phraseId }) => phraseId));
  const again = new Set(plan.writes.map(({ phraseId }) => phraseId).filter((one) => !known.has(one)));
  const files = [
    ...fresh,
    ...(await filesInTurn(
      library,
      id,
      items.filter((item) => again.has(item.id)),
    )),
  ];
  await writeAll(library, place, plan.writes, files);
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

/** Each file appears whole under its name or not at all: it is written beside the mirrors, and moved. */
async function writeAll(
  library: Library,
  place: string,
  writes: readonly MirrorWanted[],
  files: readonly MadeFile[],
): Promise<void> {
  const keyOf = ({ phraseId, piece }: Pick<MirrorWanted, 'phraseId' | 'piece'>) => `${phraseId} ${piece}`;
  const bytesOf = new Map(files.map((file) => [keyOf(file), file.bytes]));
  for (const target of writes) {
    const path = join(place, target.path);
    await mkdir(dirname(path), { recursive: true });
    await writeWhole(path, bytesOf.get(keyOf(target))!, join(mirrorRoot(library), WRITING, randomUUID()));
  }
}

async function keepRows({ db }: Library, basketId: string, rows: readonly MirrorRow[]): Promise<void> {
  await db.transaction(async (tx) => {
    await tx.delete(mirroredFiles).where(eq(mirroredFiles.basketId, basketId));
    for (const some of inPieces(rows))
      await tx
        .insert(mirroredFiles)
        .values(some.map((row) => ({ basketId, ...row })))
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
  const { plan } = await planFor(library, mirrored, true);
  const moves = plan.moves.filter(({ to }) => !to.startsWith(`${SET_ASIDE}/`));
  if (!apply || moves.length === 0) return { moves };
  const mirrors = running.get(library);
  if (mirrors)
    await inTurn(mirrors, async () =>
      setState(library, mirrors, await bringIntoStep(library, mirrored, true)),
    );
  return { moves };
}

/** The files of a mirror that are not ours, and those of ours that were changed: their paths on the disk, to be taken in. */
export function offeredIn(library: Library, id: string): { file: string; path: string }[] {
  const state = running.get(library)?.states.get(id);
  if (!state) return [];
  return [...state.foreign, ...state.cameBack].map((file) => ({
    file: `${state.folder}/${file}`,
    path: join(mirrorRoot(library), state.folder, file),
  }));
}
