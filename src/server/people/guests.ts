import { asc, eq } from 'drizzle-orm';
import type { Clip } from '../../core/phrase/clip.ts';
import type { Db } from '../db/client.ts';
import { baskets, guestBaskets } from '../db/schema.ts';
import { idsIn } from '../library/handoff/basket-rows.ts';
import { getBasket } from '../library/handoff/baskets.ts';
import { notFound } from '../library/errors.ts';
import { getPhrase } from '../library/phrases/phrases.ts';
import type { News } from '../live/news.ts';
import { seesBasket } from './accounts.ts';

/** Baskets that were chosen for a guest: of each what they need to find, hear and take it. */
export async function basketsOfGuest(db: Db, personId: string) {
  const chosen = await db
    .select({ id: baskets.id })
    .from(guestBaskets)
    .innerJoin(baskets, eq(baskets.id, guestBaskets.basketId))
    .where(eq(guestBaskets.personId, personId))
    .orderBy(asc(baskets.name));
  const found = [];
  for (const { id } of chosen) {
    const { name, project, items } = await getBasket(db, id);
    found.push({
      ...{ id, name, project },
      phrases: items.map((item) => ({
        ...{
          id: item.id,
          name: item.name,
          role: item.role,
          bars: item.bars,
          bpm: item.bpm,
          swatch: item.swatch,
        },
        file: item.file,
      })),
    });
  }
  return found;
}

export type SharedBasket = Awaited<ReturnType<typeof basketsOfGuest>>[number];

/** A phrase of a basket, to be listened to. @throws LibraryError 404 where it is not in it */
export async function heardInBasket(
  db: Db,
  basketId: string,
  phraseId: string,
): Promise<{ name: string; clip: Clip }> {
  if (!(await idsIn(db, basketId)).includes(phraseId)) throw notFound('phrase');
  const { name, clip } = await getPhrase(db, phraseId);
  return { name, clip };
}

/** Whether news are for a guest: that one of their baskets changed, and nothing else. */
export async function guestHears(db: Db, personId: string, news: News): Promise<boolean> {
  if (news.type === 'missed') return true;
  // How far the pack is that they wait for is theirs to know.
  if (news.type === 'progress') return news.work === 'pack' && seesBasket(db, personId, news.id);
  if (news.type !== 'changed' || news.kind !== 'basket' || !news.id) return false;
  return seesBasket(db, personId, news.id);
}
