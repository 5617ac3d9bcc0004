import { asc, eq } from 'drizzle-orm';
import { saidOwn, type OwnOut } from '../../../core/exchange/own-out.ts';
import type { Db } from '../../db/client.ts';
import { basketItems, baskets, type BasketHeading } from '../../db/schema.ts';

/** A row of a basket: a heading where it has a text, else a phrase, which may leave in a way of its own. */
export interface BasketRow {
  id: string;
  heading?: string | undefined;
  own?: OwnOut | undefined;
}

/** Phrases and headings in their order. */
export function rowsOf(
  headings: readonly BasketHeading[],
  items: readonly { id: string; position: number; own: OwnOut | null }[],
): BasketRow[] {
  const rows = [
    ...headings.map(({ id, position, text }) => ({ position, row: { id, heading: text } as BasketRow })),
    ...items.map(({ id, position, own }) => ({ position, row: own ? { id, own } : { id } })),
  ];
  return rows.sort((a, b) => a.position - b.position).map(({ row }) => row);
}

/** The heading that stands over a position; empty where none does. */
export function headingAt(headings: readonly BasketHeading[], position: number): string {
  return headings.findLast((heading) => heading.position < position)?.text ?? '';
}

/** Each row once, and nothing said that says nothing: so that two of a kind are alike. */
export function tidied(rows: readonly BasketRow[]): BasketRow[] {
  const byId = new Map(rows.map((row) => [row.id, row]));
  return [...byId.values()].map(({ id, heading, own }) => {
    if (heading !== undefined) return { id, heading: heading.trim() };
    const said = saidOwn(own);
    return said ? { id, own: said } : { id };
  });
}

/** The phrases of a basket, in order. */
export async function idsIn(db: Db, basketId: string): Promise<string[]> {
  return (await itemsIn(db, basketId)).map(({ id }) => id);
}

/** The phrases of a basket in their order, with how they leave of their own. */
export async function itemsIn(db: Db, basketId: string) {
  const { phraseId: id, position, own } = basketItems;
  return db
    .select({ id, position, own })
    .from(basketItems)
    .where(eq(basketItems.basketId, basketId))
    .orderBy(asc(position));
}

/** Writes what is in a basket. For a transaction. */
export async function writeRows(tx: Db, basketId: string, rows: readonly BasketRow[]): Promise<void> {
  const headings: BasketHeading[] = [];
  const items: (typeof basketItems.$inferInsert)[] = [];
  rows.forEach(({ id, heading, own }, position) => {
    if (heading === undefined) items.push({ basketId, phraseId: id, position, own: own ?? null });
    else headings.push({ id, position, text: heading });
  });
  await tx.update(baskets).set({ headings }).where(eq(baskets.id, basketId));
  await tx.delete(basketItems).where(eq(basketItems.basketId, basketId));
  if (items.length > 0) await tx.insert(basketItems).values(items);
}
