import { groupsOf } from '../../core/catalog/alike.ts';
import { PASSES } from '../../core/catalog/similar.ts';
import { catalogOf } from '../catalog/catalog.ts';
import type { Library } from '../db/client.ts';
import { LibraryError } from '../library/errors.ts';
import { tellProgress } from '../live/progress.ts';
import { phraseRows } from '../library/phrases/search.ts';
import { allApart } from '../library/phrases/twice.ts';
import {
  firstOpen,
  heldAgain,
  PAIRS_AT_ONCE,
  readTwice,
  twiceAmong,
  writeTwice,
  type TwiceFound,
} from './twice-found.ts';

/** How far the search for what is there twice has come. */
export interface TwiceState {
  state: 'never' | 'looking' | 'done' | 'stopped';
  /** Passes that were gone through, of all. */
  done: number;
  of: number;
  /** Pairs that were compared note by note. */
  compared: number;
  /** When the library was looked through, in ISO 8601; null while it is, and before. */
  at: string | null;
}

/** Groups that are answered at once. */
const MOST_GROUPS = 200;

/** One search goes through the whole library. */
const WHOLE = { work: 'twice', id: 'all' } as const;

const NEVER: TwiceState = { state: 'never', done: 0, of: PASSES, compared: 0, at: null };

let state = NEVER;
let found: TwiceFound = { links: [], since: '0', at: '', compared: 0, isWhole: false };
let wanted = false;

/** What an earlier process has found, taken over once. */
let takenOver: Promise<void> | undefined;

function takeOver(library: Library): Promise<void> {
  takenOver ??= readTwice(library).then((written) => {
    if (!written || state.state !== 'never') return;
    found = written;
    const { isWhole, compared, at } = written;
    state = { ...NEVER, state: isWhole ? 'done' : 'stopped', done: isWhole ? PASSES : 0, compared, at };
  });
  return takenOver;
}

/** Begins to look through the whole library, in threads, pass by pass. @throws LibraryError 409 where it is being looked through */
export function lookForTwice(library: Library): TwiceState {
  if (state.state === 'looking') throw new LibraryError(409, 'The library is being looked through already.');
  wanted = true;
  state = { ...NEVER, state: 'looking' };
  look(library)
    .catch((error: unknown) => {
      console.error(error);
      state = { ...state, state: 'stopped' };
    })
    .finally(() => tellProgress(library, { ...WHOLE, isOver: true }));
  return state;
}

export function stopTwice(): TwiceState {
  wanted = false;
  return state;
}

async function look(library: Library): Promise<void> {
  found = { ...found, links: [], since: await firstOpen(library.db) };
  const isWhole = await lookThrough(library);
  const at = new Date().toISOString();
  found = { ...found, at, compared: state.compared, isWhole };
  state = { ...state, state: isWhole ? 'done' : 'stopped', at };
  await writeTwice(library, found);
}

/** Goes through all passes; false where it was stopped before the end. */
async function lookThrough(library: Library): Promise<boolean> {
  for (let pass = 0; pass < PASSES; pass++) {
    const pairs = await catalogOf(library).pairs(pass);
    for (let at = 0; at < pairs.length; at += PAIRS_AT_ONCE) {
      if (!wanted) return false;
      const some = pairs.slice(at, at + PAIRS_AT_ONCE);
      found.links.push(...(await twiceAmong(library.db, some)));
      state = { ...state, compared: state.compared + some.length };
      tellProgress(library, WHOLE);
    }
    state = { ...state, done: pass + 1 };
  }
  return true;
}

/** One after the other: of two who ask at once, one holds changed pairs against each other again. */
let holding = Promise.resolve();

/** What was found before, with what has changed since held against each other again. */
function bringUpToDate(library: Library): Promise<void> {
  holding = holding
    .catch(() => {})
    .then(async () => {
      const before = found;
      const now = await heldAgain(library, before);
      // A search that has begun meanwhile finds all of it anew.
      if (found !== before) return;
      found = now;
      if (now.links.length !== before.links.length) await writeTwice(library, now);
    });
  return holding;
}

/**
 * What is there twice as far as it was found: groups of kept phrases, each with what it has in common with the first, or, where those
 * two were not compared, with another.
 */
export async function twiceGroups(library: Library) {
  await takeOver(library);
  if (state.state === 'done' || state.state === 'stopped') await bringUpToDate(library);
  const apart = await allApart(library.db);
  const held = found.links.filter(({ a, b }) => !apart.has(a < b ? `${a} ${b}` : `${b} ${a}`));
  const kept = await catalogOf(library).kept([...new Set(held.flatMap(({ a, b }) => [a, b]))]);
  const at = new Map(kept.map((id, k) => [id, k]));
  const among = held.filter(({ a, b }) => at.has(a) && at.has(b));
  const groups = groupsOf(
    kept.length,
    among.map(({ a, b }): [number, number] => [at.get(a)!, at.get(b)!]),
  );
  const shown = groups.slice(0, MOST_GROUPS).map((group) => group.map((k) => kept[k]!));
  const rows = await phraseRows(library.db, shown.flat());
  const texts = new Map<string, string>();
  // Of a pair the text of its own, of one alone that of the first that was found.
  for (const { a, b, likeness } of among)
    for (const key of [`${a} ${b}`, `${b} ${a}`, a, b]) if (!texts.has(key)) texts.set(key, likeness.text);
  return {
    ...state,
    groups: shown.map((group) =>
      group.flatMap((id, k) => {
        const phrase = rows.get(id);
        const text = k === 0 ? '' : (texts.get(`${group[0]} ${id}`) ?? texts.get(id) ?? '');
        return phrase ? [{ phrase, text }] : [];
      }),
    ),
    total: groups.length,
  };
}

export type TwiceGroups = Awaited<ReturnType<typeof twiceGroups>>;
