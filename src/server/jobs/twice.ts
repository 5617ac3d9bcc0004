import { groupsOf, TWICE } from '../../core/catalog/alike.ts';
import { PASSES } from '../../core/catalog/similar.ts';
import { catalogOf } from '../catalog/catalog.ts';
import type { Library } from '../db/client.ts';
import { LibraryError } from '../library/errors.ts';
import { tellProgress } from '../live/progress.ts';
import { phraseRows } from '../library/phrases/search.ts';
import { allApart, linksAmong, type Link } from '../library/phrases/twice.ts';

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

/** One search goes through the whole library. */
const WHOLE = { work: 'twice', id: 'all' } as const;

let state: TwiceState = { state: 'never', done: 0, of: PASSES, compared: 0 };
let links: Link[] = [];
let wanted = false;

/** Begins to look through the whole library, in threads, pass by pass. @throws LibraryError 409 where it is being looked through */
export function lookForTwice(library: Library): TwiceState {
  if (state.state === 'looking') throw new LibraryError(409, 'The library is being looked through already.');
  wanted = true;
  links = [];
  state = { state: 'looking', done: 0, of: PASSES, compared: 0 };
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
  for (let pass = 0; pass < PASSES; pass++) {
    const pairs = await catalogOf(library).pairs(pass);
    for (let at = 0; at < pairs.length; at += AT_ONCE) {
      if (!wanted) {
        state = { ...state, state: 'stopped' };
        return;
      }
      const some = pairs.slice(at, at + AT_ONCE);
      const found = await linksAmong(library.db, some);
      links.push(...found.filter(({ likeness }) => TWICE.has(likeness.verdict)));
      state = { ...state, compared: state.compared + some.length };
      tellProgress(library, WHOLE);
    }
    state = { ...state, done: pass + 1 };
  }
  state = { ...state, state: 'done' };
}

/**
 * What is there twice as far as it was found: groups of kept phrases, each with what it has in common with the first, or, where those
 * two were not compared, with another.
 */
export async function twiceGroups(library: Library) {
  const apart = await allApart(library.db);
  const held = links.filter(({ a, b }) => !apart.has(a < b ? `${a} ${b}` : `${b} ${a}`));
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
