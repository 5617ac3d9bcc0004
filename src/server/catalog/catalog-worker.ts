import { upperMedian } from '../../core/numbers.ts';
import { parentPort, workerData } from 'node:worker_threads';
import { expose } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import { LRUCache } from 'lru-cache';
import pg from 'pg';
import { emptyCatalog, putMarks, putRows, putTagTree, stateCode } from '../../core/catalog/catalog.ts';
import {
  find,
  type FacetCounts,
  type Found,
  type PhraseFilter,
  type PhraseSort,
} from '../../core/catalog/find.ts';
import type { Fit, FitContext } from '../../core/catalog/fit.ts';
import {
  fittedAt,
  fitWithReasons,
  harmonyAt,
  suiting,
  type FitMemory,
  type Suiting,
} from '../../core/catalog/fit-column.ts';
import { harmonyOfLibrary, type LibraryHarmony } from '../../core/catalog/harmony.ts';
import type { Beside } from '../../core/catalog/beside.ts';
import { sorted } from '../../core/catalog/order.ts';
import {
  candidatePairs,
  moreLike,
  twinCandidates,
  type Like,
  type LikeWeights,
} from '../../core/catalog/similar.ts';
import { allMarks, allRows, changedSince, lastChange, standing } from './rows.ts';
import { readSnapshot, writeSnapshot } from './snapshot.ts';

/** What a list of phrases is asked for by. */
export interface CatalogQuery {
  filter: PhraseFilter;
  sort: PhraseSort;
  /** What they are to suit. */
  suits: FitContext | null;
  /** Phrases that play already, and what else does. */
  pins: readonly string[];
  beside: readonly Beside[];
  offset: number;
  limit: number;
}

/** A page of a list. */
export interface CatalogPage {
  total: number;
  ids: string[];
  /** Null where nothing is asked for. */
  fits: (Fit | null)[];
}

const { address, snapshotPath } = workerData as { address: pg.ClientConfig; snapshotPath: string };

let catalog = emptyCatalog();
let client: Promise<pg.Client> | null = null;
/** The first transaction that has not been read for certain; null before anything was read. */
let since: string | null = null;

function connected(): Promise<pg.Client> {
  client ??= (async () => {
    const made = new pg.Client(address);
    // The next question connects anew.
    made.on('error', () => (client = null));
    await made.connect();
    return made;
  })().catch((error: unknown) => {
    client = null;
    throw error;
  });
  return client;
}

/** Reads what is new. What was read before stays where this fails. */
async function readNew(): Promise<void> {
  const db = await connected();
  since ??= await writtenDown(db);
  // What is read after this question is asked is read again the next time, and not missed.
  const { open, hasNew, tags } = await standing(db, since ?? '0');
  if (since === null) {
    for await (const rows of allRows(db)) putRows(catalog, rows);
    for await (const marks of allMarks(db)) putMarks(catalog, marks);
    await writeDown(db, open);
  } else if (hasNew)
    for await (const { rows, marks } of changedSince(db, since)) {
      putRows(catalog, rows);
      putMarks(catalog, marks);
    }
  putTagTree(catalog, tags);
  since = open;
}

/** What cannot be written down is read anew at the next start. */
async function writeDown(db: pg.Client, open: string): Promise<void> {
  await writeSnapshot(snapshotPath, catalog, open, await lastChange(db)).catch(() => {});
}

/** Takes over the catalog that the last process has written down, and answers since when it may have changed. */
async function writtenDown(db: pg.Client): Promise<string | null> {
  const snapshot = await readSnapshot(snapshotPath);
  // A database that knows less than what was written down is another one.
  if (!snapshot || BigInt(await lastChange(db)) < BigInt(snapshot.lastChange)) return null;
  catalog = snapshot.catalog;
  return snapshot.since;
}

let reading: Promise<void> | null = null;
let waiting: Promise<void> | null = null;

/** The catalog as it is now: who asks while it is being read waits for the next reading, together with all who ask then. */
function upToDate(): Promise<void> {
  if (!reading) {
    reading = readNew().finally(() => (reading = null));
    return reading;
  }
  waiting ??= reading
    .catch(() => {})
    .then(() => {
      waiting = null;
      return upToDate();
    });
  return waiting;
}

/** What was found last: a list, its facets and its next pages are one question. */
const found = new LRUCache<string, Found>({ max: 8 });
let memory: FitMemory | null = null;

function foundFor(filter: PhraseFilter): Found {
  const key = `${catalog.version} ${JSON.stringify(filter)}`;
  let known = found.get(key);
  if (!known) found.set(key, (known = find(catalog, filter)));
  return known;
}

function suitingFor({ suits, pins, beside }: CatalogQuery): Suiting | undefined {
  if (!suits && pins.length === 0 && beside.length === 0) return undefined;
  const pinnedPhrases = pins.flatMap((id) => {
    const at = catalog.places.get(id);
    return at === undefined ? [] : [fittedAt(catalog, at)];
  });
  const pinned = [...pinnedPhrases, ...beside];
  const swings = pinned.map(({ swing }) => swing).filter((swing) => swing > 0);
  const swing = swings.length > 0 ? upperMedian(swings) : undefined;
  const made = suiting(catalog, { ...suits, pinned, swing }, memory);
  if (made.memory !== memory) warm(made);
  memory = made.memory;
  return made;
}

/** Phrases whose harmony is found between two questions. */
const AT_ONCE = 2000;

/** Finds the harmony of all phrases under a project ahead of being asked, a little at a time. */
function warm(asked: Suiting, from = 0): void {
  setImmediate(() => {
    if (asked.memory !== memory || from >= catalog.size) return;
    for (let at = from; at < Math.min(catalog.size, from + AT_ONCE); at++) harmonyAt(catalog, at, asked);
    warm(asked, from + AT_ONCE);
  });
}

/** Orders that were asked for last: the next page is of the same. */
const orders = new LRUCache<string, Int32Array>({ max: 8 });

function orderFor(query: CatalogQuery, places: Int32Array, asked: Suiting | undefined): Int32Array {
  const { filter, sort, suits, pins, beside } = query;
  const key = `${catalog.version} ${JSON.stringify([filter, sort, suits, pins, beside])}`;
  let known = orders.get(key);
  if (!known) orders.set(key, (known = sorted(catalog, places, sort, { bpm: suits?.bpm, suiting: asked })));
  return known;
}

const questions = {
  async page(query: CatalogQuery): Promise<CatalogPage> {
    await upToDate();
    const { places, counts } = foundFor(query.filter);
    const asked = suitingFor(query);
    const order = orderFor(query, places, asked);
    const shown = [...order.subarray(query.offset, query.offset + query.limit)];
    return {
      total: counts.total,
      ids: shown.map((at) => catalog.ids[at]!),
      fits: shown.map((at) => (asked ? fitWithReasons(catalog, at, asked) : null)),
    };
  },

  async counts(filter: PhraseFilter): Promise<FacetCounts> {
    await upToDate();
    return foundFor(filter).counts;
  },

  /** Ids of all that is found, by name. */
  async ids(filter: PhraseFilter): Promise<string[]> {
    await upToDate();
    return [...sorted(catalog, foundFor(filter).places, 'name')].map((at) => catalog.ids[at]!);
  },

  async harmony(): Promise<LibraryHarmony> {
    await upToDate();
    return harmonyOfLibrary(catalog);
  },

  async like(id: string, weights: LikeWeights, count: number): Promise<Like[]> {
    await upToDate();
    return moreLike(catalog, id, weights, count);
  },

  async twins(id: string, most: number): Promise<string[]> {
    await upToDate();
    return twinCandidates(catalog, id, most);
  },

  /** Those of some phrases that are kept. */
  async kept(ids: readonly string[]): Promise<string[]> {
    await upToDate();
    return ids.filter((id) => {
      const at = catalog.places.get(id);
      return at !== undefined && catalog.states[at] === stateCode('kept');
    });
  },

  async pairs(pass: number): Promise<[string, string][]> {
    await upToDate();
    return candidatePairs(catalog, pass);
  },

  async close(): Promise<void> {
    const db = await client;
    if (db && since !== null) await writeDown(db, since);
    await db?.end();
    client = null;
  },
};

export type Questions = typeof questions;

expose(questions, nodeEndpoint(parentPort!));
