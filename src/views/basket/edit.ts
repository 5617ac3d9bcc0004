import { v4 as newId } from 'uuid';
import { saidOwn } from '../../core/exchange/own-out.ts';
import { mineOver } from '../../core/merge/three-way.ts';
import type { OutOptions, PackLayout } from '../../core/exchange/out-options.ts';
import type { BasketWire } from '../api/queries.ts';

/** All that can be changed about a basket. */
export interface BasketEdit {
  /** Its phrases and headings in their order. */
  rows: BasketRow[];
  name: string;
  pattern: string;
  projectId: string | null;
  recipientId: string | null;
  /** How its phrases leave. */
  out: OutOptions;
  /** How its files lie, and whether each has a preview. */
  layout: PackLayout;
  previews: boolean;
  /** Of what sounds together too; over a bed of their chords. */
  previewSums: boolean;
  previewBeds: boolean;
  /** The folder it is mirrored to; null where it is not. */
  mirror: string | null;
}

export type BasketRow = BasketWire['rows'][number];

export function editOf(basket: BasketWire): BasketEdit {
  const { name, pattern, projectId, recipientId, out, layout, mirror, rows } = basket;
  const { previews, previewSums, previewBeds } = basket;
  return {
    ...{ name, pattern, projectId, recipientId, out, layout, mirror, previews, previewSums, previewBeds },
    rows,
  };
}

const same = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other);

/** What `ours` changes about `base`, and nothing else: what was not touched is never written. */
export function changesOf(base: BasketEdit, ours: BasketEdit): Partial<BasketEdit> {
  const changed = Object.entries(ours).filter(
    ([field, value]) => !same(value, base[field as keyof BasketEdit]),
  );
  return Object.fromEntries(changed);
}

/** Our edit, made on `base`, as it is on `theirs`: what we changed stays ours, the rest is theirs; phrases are put in and taken out one by one. */
export function rebased(base: BasketEdit, ours: BasketEdit, theirs: BasketEdit): BasketEdit {
  return mineOver(base, ours, theirs, { rows: (row: BasketRow) => row.id });
}

/** Rows with some of them one place up (-1) or down (1), each past one that stays; at the edge they stay. */
export function moved(rows: readonly BasketRow[], ids: ReadonlySet<string>, by: 1 | -1): BasketRow[] {
  const next = by < 0 ? [...rows] : [...rows].reverse();
  for (let at = 1; at < next.length; at++) {
    const [before, here] = [next[at - 1]!, next[at]!];
    if (ids.has(here.id) && !ids.has(before.id)) [next[at - 1], next[at]] = [here, before];
  }
  return by < 0 ? next : next.reverse();
}

/** Rows with a heading above one of them, or at the end. */
export function withHeading(
  rows: readonly BasketRow[],
  heading: { id: string; heading: string },
  above: string | undefined,
): BasketRow[] {
  const at = rows.findIndex(({ id }) => id === above);
  const place = at < 0 ? rows.length : at;
  return [...rows.slice(0, place), heading, ...rows.slice(place)];
}

/** Rows of which some phrases leave in a way of their own. */
export function withOwn(
  rows: readonly BasketRow[],
  ids: ReadonlySet<string>,
  own: BasketRow['own'],
): BasketRow[] {
  const said = saidOwn(own);
  return rows.map((row) => {
    if (!ids.has(row.id) || row.heading !== undefined) return row;
    return said ? { id: row.id, own: said } : { id: row.id };
  });
}

/** What comes along with phrases of another basket. */
export interface Along {
  headings: boolean;
  own: boolean;
}

/** Phrases as rows of another basket, in the order they stand in theirs: a heading comes with the first phrase that is brought from under it. */
export function broughtIn(ids: readonly string[], laidOut: readonly BasketRow[], along: Along): BasketRow[] {
  const wanted = new Set(ids);
  const known = new Set(laidOut.map(({ id }) => id));
  let heading: string | undefined;
  const brought = laidOut.flatMap(({ id, ...row }): BasketRow[] => {
    if (row.heading !== undefined) heading = row.heading;
    if (!wanted.has(id)) return [];
    const over = along.headings && heading !== undefined ? [{ id: newId(), heading }] : [];
    heading = undefined;
    return [...over, along.own && row.own ? { id, own: row.own } : { id }];
  });
  return [...brought, ...ids.filter((id) => !known.has(id)).map((id) => ({ id }))];
}
