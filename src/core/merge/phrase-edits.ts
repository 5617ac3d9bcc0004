import type { Key } from '../music/key.ts';
import type { Fitting } from '../normalize/fitting.ts';
import type { Recipe } from '../normalize/recipe.ts';
import type { Role } from '../split/roles.ts';
import { mergedFields, type Merged } from './three-way.ts';

/** What is changed of a phrase under one history. */
export interface PhraseEdit {
  name: string;
  role: Role;
  takeKey: Key | null;
  recipe: Recipe;
  fitting: Fitting;
  tags: string[];
  projectId: string | null;
  rights: string;
}

/** Of a phrase, what can be changed under one history. */
export function phraseEditOf(phrase: PhraseEdit): PhraseEdit {
  const { name, role, takeKey, recipe, fitting, tags, projectId, rights } = phrase;
  return { name, role, takeKey, recipe, fitting, tags, projectId, rights };
}

/** Two changes of one phrase put together: tags one by one, the recipe step by step. */
export function mergedPhraseEdits(
  base: PhraseEdit,
  mine: PhraseEdit,
  theirs: PhraseEdit,
): Merged<PhraseEdit> {
  return mergedFields(base, mine, theirs, {
    tags: (tag: string) => tag,
    'recipe.steps': ({ step }: { step: string }) => step,
  });
}
