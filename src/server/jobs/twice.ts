import { groupsOf, TWICE, type Likeness } from '../../core/catalog/alike.ts';
import { PASSES } from '../../core/catalog/similar.ts';
import { catalogOf } from '../catalog/catalog.ts';
import { compute } from '../compute/pool.ts';
import type { Library } from '../db/client.ts';
import { LibraryError } from '../library/errors.ts';
import { phraseRows } from '../library/search.ts';
import { allApart, asKept } from '../library/twice.ts';

/** A pair of phrases that are one thing twice. */
interface Link {
  a: string;
  b: string;
  likeness: Likeness;
}

/** How far the search for what is there twice has come: it is found again whenever somebody asks, and never written. */
export interface TwiceState {
  state: 'never' | 'looking' | 'done' | 'stopped';
  /** Passes that were gone through, of all. */
  done: number;
  of: number;
  /** Pairs that were compared note by note. */
  compared: number;
}

/** Pairs that are compared in one task of a thread. */
const AT_ONCE = 200;

/** Groups that are answered at once. */
const MOST_GROUPS = 200;

let state: TwiceState = { state: 'never', done: 0, of: PASSES, compared: 0 };
let links: Link[] = [];
let wanted = false;

export function twiceState(): TwiceState {
  return state;
}

/** Begins to look through the whole library, in threads, pass by pass. @throws LibraryError 409 where it is being looked through */
export function lookForTwice(library: Library): TwiceState {
  if (state.state === 'looking') throw new LibraryError(409, 'The library is being looked through already.');
  wanted = true;
  links = [];
  state = { state: 'looking', done: 0, of: PASSES, compared: 0 };
  look(library).catch((error: unknown) => {
    console.error(error);
    state = { ...state, state: 'stopped' };
  });
  return state;
}

export function stopTwice(): TwiceState {
  wanted = false;
  return state;
}

async function look(library: Library): Promise<void> {
  for (let pass = 0; pass < PASSES; pass++) {
    const pairs = await catalogOf(library).pairs(pass);
    for (let at = 0; at < pairs.length; at += AT_ONCE) {
      if (!wanted) {
        state = { ...state, state: 'stopped' };
        return;
      }
      const some = pairs.slice(at, at + AT_ONCE);
      links.push(...(await linksAmong(library, some)));
      state = { ...state, compared: state.compared + some.length };
    }
    state = { ...state, done: pass + 1 };
  }
  state = { ...state, state: 'done' };
}

async function linksAmong(library: Library, pairs: readonly [string, string][]): Promise<Link[]> {
  const ids = [...new Set(pairs.flat())];
  const known = await asKept(library.db, ids);
  const there = ids.filter((id) => known.has(id));
  const at = new Map(there.map((id, k) => [id, k]));
  const both = pairs.filter(([a, b]) => at.has(a) && at.has(b));
  const found = await compute(
    'likenesses',
    there.map((id) => known.get(id)!),
    both.map(([a, b]): [number, number] => [at.get(a)!, at.get(b)!]),
  );
  return both.flatMap(([a, b], k) => {
    const likeness = found[k];
    return likeness && TWICE.has(likeness.verdict) ? [{ a, b, likeness }] : [];
  });
}

/** What is there twice as far as it was found: groups of kept phrases, each with what it has in common with the first. */
export async function twiceGroups(library: Library) {
  const apart = await allApart(library.db);
  const held = links.filter(({ a, b }) => !apart.has(a < b ? `${a} ${b}` : `${b} ${a}`));
  const ids = [...new Set(held.flatMap(({ a, b }) => [a, b]))];
  const rows = new Map((await phraseRows(library.db, ids)).map((row) => [row.id, row]));
  const kept = ids.filter((id) => rows.get(id)?.state === 'kept');
  const at = new Map(kept.map((id, k) => [id, k]));
  const among = held.filter(({ a, b }) => at.has(a) && at.has(b));
  const groups = groupsOf(
    kept.length,
    among.map(({ a, b }): [number, number] => [at.get(a)!, at.get(b)!]),
  );
  const texts = new Map(
    among.flatMap(({ a, b, likeness }) => [
      [`${a} ${b}`, likeness.text] as const,
      [`${b} ${a}`, likeness.text] as const,
    ]),
  );
  return {
    ...state,
    groups: groups.slice(0, MOST_GROUPS).map((group) => {
      const [first] = group;
      return group.map((k) => {
        const id = kept[k]!;
        const text =
          k === first
            ? ''
            : (texts.get(`${kept[first!]} ${id}`) ??
              among.find(({ a, b }) => a === id || b === id)?.likeness.text ??
              '');
        return { phrase: rows.get(id)!, text };
      });
    }),
    total: groups.length,
  };
}

export type TwiceGroups = Awaited<ReturnType<typeof twiceGroups>>;
