import { and, eq, inArray, ne, sql } from 'drizzle-orm';
import { withPhraseFor } from '../../../core/weave/edit.ts';
import { among } from '../../db/among.ts';
import type { Db } from '../../db/client.ts';
import { basketItems, baskets, weaves } from '../../db/schema.ts';

/** A basket or a weave that holds a phrase. */
export interface Place {
  kind: 'basket' | 'weave';
  id: string;
  name: string;
}

/** Weaves that use some phrases, one row a phrase; those that were set aside left out. */
export function weavesUsing(db: Db, phraseIds: readonly string[]) {
  const phrase = sql<string>`used.phrase`;
  return db
    .selectDistinct({ id: weaves.id, name: weaves.title, isAside: weaves.aside, phrase })
    .from(weaves)
    .innerJoin(sql`jsonb_array_elements(${weaves.weave} -> 'cells') as cell`, sql`true`)
    .innerJoin(sql`unnest(array[cell ->> 'phrase', cell ->> 'fill']) as used(phrase)`, sql`true`)
    .where(and(inArray(phrase, [...phraseIds]), ne(weaves.aside, true)));
}

/** Baskets that hold some phrases, one row a phrase. */
export function basketsUsing(db: Db, phraseIds: readonly string[]) {
  const { phraseId } = basketItems;
  return db
    .select({ id: baskets.id, name: baskets.name, isAside: sql<boolean>`false`, phrase: phraseId })
    .from(basketItems)
    .innerJoin(baskets, eq(baskets.id, basketItems.basketId))
    .where(among(phraseId, phraseIds));
}

/** The baskets and weaves that hold one of some phrases, by name. */
export async function placesOf(db: Db, phraseIds: readonly string[]): Promise<Place[]> {
  const each = (kind: Place['kind'], rows: readonly { id: string; name: string }[]) =>
    [...new Map(rows.map(({ id, name }) => [id, { kind, id, name }])).values()].sort((a, b) =>
      a.name.localeCompare(b.name, 'en'),
    );
  return [
    ...each('basket', await basketsUsing(db, phraseIds)),
    ...each('weave', await weavesUsing(db, phraseIds)),
  ];
}

/** Puts a phrase in the place of another in some baskets and weaves. A basket that holds both keeps both. */
export async function exchange(
  db: Db,
  { from, to, places }: { from: string; to: string; places: readonly Pick<Place, 'kind' | 'id'>[] },
): Promise<void> {
  const idsOf = (kind: Place['kind']) => places.filter((place) => place.kind === kind).map(({ id }) => id);
  await db.transaction(async (tx) => {
    const there = tx
      .select({ id: basketItems.basketId })
      .from(basketItems)
      .where(eq(basketItems.phraseId, to));
    await tx
      .update(basketItems)
      .set({ phraseId: to })
      .where(
        and(
          eq(basketItems.phraseId, from),
          among(basketItems.basketId, idsOf('basket')),
          sql`${basketItems.basketId} not in ${there}`,
        ),
      );
    const held = await tx
      .select({ id: weaves.id, weave: weaves.weave, revision: weaves.revision })
      .from(weaves)
      .where(among(weaves.id, idsOf('weave')))
      .for('update');
    for (const { id, weave, revision } of held)
      await tx
        .update(weaves)
        .set({ weave: withPhraseFor(weave, from, to), revision: revision + 1, updatedAt: new Date() })
        .where(eq(weaves.id, id));
  });
}
