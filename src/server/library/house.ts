import { eq } from 'drizzle-orm';
import type { OutOptions } from '../../core/exchange/out-options.ts';
import { HOUSE, type House } from '../../core/normalize/house.ts';
import type { Db } from '../db/client.ts';
import { houses } from '../db/schema.ts';
import { overKept, type BasedEdit } from './kept-meanwhile.ts';

/** The one row there is. */
const ROW = 1;

/** How everything in this library is kept; the house's own standard where nobody has chosen. */
export async function getHouse(db: Db): Promise<House> {
  const [row] = await db.select().from(houses).where(eq(houses.id, ROW));
  // A house that was chosen before a field came takes that field's own value.
  return row ? { ...HOUSE, ...row.house, roles: { ...HOUSE.roles, ...row.house.roles } } : HOUSE;
}

/**
 * Chooses the house standard. What is in the library stays as it is until a recipe is applied to it again.
 * @throws LibraryError 409 where somebody else chose the same otherwise meanwhile
 */
export async function setHouse(db: Db, edit: BasedEdit<House>): Promise<House> {
  return db.transaction(async (tx) => {
    await tx.select({ id: houses.id }).from(houses).where(eq(houses.id, ROW)).for('update');
    const house = overKept('the house standard', edit, await getHouse(tx));
    await tx
      .insert(houses)
      .values({ id: ROW, house })
      .onConflictDoUpdate({ target: houses.id, set: { house } });
    return house;
  });
}

/** What this library is called where packs of several meet. */
export async function libraryId(db: Db): Promise<string> {
  // Nobody has chosen a house yet: what is not chosen stays the house's own.
  await db
    .insert(houses)
    .values({ id: ROW, house: {} as House })
    .onConflictDoNothing();
  const [row] = await db.select({ library: houses.library }).from(houses).where(eq(houses.id, ROW));
  return row!.library;
}

/** How things last left for nobody in particular; null where nothing has. */
export async function lastWayOut(db: Db): Promise<OutOptions | null> {
  const [row] = await db.select({ out: houses.out }).from(houses).where(eq(houses.id, ROW));
  return row?.out ?? null;
}

export async function setLastWayOut(db: Db, out: OutOptions): Promise<void> {
  const house = await getHouse(db);
  await db
    .insert(houses)
    .values({ id: ROW, house, out })
    .onConflictDoUpdate({ target: houses.id, set: { out } });
}
