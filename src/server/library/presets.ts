import { randomUUID } from 'node:crypto';
import { asc, eq } from 'drizzle-orm';
import { asPreset } from '../../core/normalize/apply-preset.ts';
import type { FeelShape } from '../../core/normalize/feel.ts';
import type { Recipe } from '../../core/normalize/recipe.ts';
import type { Role } from '../../core/split/roles.ts';
import type { Db } from '../db/client.ts';
import { feels, presets } from '../db/schema.ts';

export type Preset = typeof presets.$inferSelect;
export type Feel = typeof feels.$inferSelect;

export function listPresets(db: Db): Promise<Preset[]> {
  return db.select().from(presets).orderBy(asc(presets.name));
}

/** Keeps a recipe under a name, without the bars; a preset of that name is replaced by it. */
export async function keepPreset(
  db: Db,
  preset: { name: string; role: Role | null; recipe: Recipe },
): Promise<Preset> {
  const { name, role } = preset;
  const recipe = asPreset(preset.recipe);
  const [row] = await db
    .insert(presets)
    .values({ id: randomUUID(), name, role, recipe })
    .onConflictDoUpdate({ target: presets.name, set: { role, recipe } })
    .returning();
  return row!;
}

/** Phrases that were made with it keep their own copy. */
export async function removePreset(db: Db, id: string): Promise<void> {
  await db.delete(presets).where(eq(presets.id, id));
}

export function listFeels(db: Db): Promise<Feel[]> {
  return db.select().from(feels).orderBy(asc(feels.name));
}

/** Keeps a feel under a name; one of that name is replaced by it. */
export async function keepFeel(db: Db, { name, feel }: { name: string; feel: FeelShape }): Promise<Feel> {
  const [row] = await db
    .insert(feels)
    .values({ id: randomUUID(), name, feel })
    .onConflictDoUpdate({ target: feels.name, set: { feel } })
    .returning();
  return row!;
}

export async function removeFeel(db: Db, id: string): Promise<void> {
  await db.delete(feels).where(eq(feels.id, id));
}
