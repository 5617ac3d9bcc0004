import { parseRecipe } from '../../../core/normalize/parse.ts';
import { keepPreset, listPresets } from '../../../server/library/presets.ts';
import { endpoint, readBody } from '../_answer.ts';
import { presetSchema } from '../../../requests/recipes.ts';

export const GET = endpoint(async ({ db }) => ({ presets: await listPresets(db) }));

/** Keeps a recipe under a name, or replaces the one of that name. */
export const PUT = endpoint(async ({ db }, context) => {
  const preset = await readBody(context, presetSchema);
  return keepPreset(db, { ...preset, recipe: parseRecipe(preset.recipe) });
});
