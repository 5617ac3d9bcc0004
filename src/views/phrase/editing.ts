import { useMemo } from 'react';
import type { Take } from '../../core/capture/take.ts';
import { applyRecipe, type Recipe, type StepName } from '../../core/normalize/recipe.ts';
import { clipFromNotes, type Clip } from '../../core/phrase/clip.ts';
import type { PhraseChange } from '../../server/library/phrases.ts';
import type { PhraseWire } from '../api/queries.ts';

/** What can be changed about a phrase, all of it under one history. */
export type PhraseEdit = Omit<PhraseChange, 'state'>;

export function editOf(phrase: PhraseWire): PhraseEdit {
  const { name, role, takeKey, recipe, tags, projectId, rights } = phrase;
  return { name, role, takeKey, recipe, tags, projectId, rights };
}

/** Where changes that are not saved outlast a reload of the window. */
const unsavedKey = (phrase: PhraseWire) => `unsaved ${phrase.id} ${phrase.updatedAt}`;

/** Changes to this version of the phrase that were never saved. */
export function unsavedEdit(phrase: PhraseWire): { value: PhraseEdit; label: string } | undefined {
  const text = sessionStorage.getItem(unsavedKey(phrase));
  return text ? { value: JSON.parse(text) as PhraseEdit, label: 'changes that were not saved' } : undefined;
}

export function rememberUnsaved(phrase: PhraseWire, edit: PhraseEdit, isChanged: boolean): void {
  if (isChanged) sessionStorage.setItem(unsavedKey(phrase), JSON.stringify(edit));
  else sessionStorage.removeItem(unsavedKey(phrase));
}

/** Steps that say where the notes are drawn, not how they are played. */
const FRAME_STEPS: ReadonlySet<StepName> = new Set<StepName>(['bars', 'transpose', 'register', 'resolution']);

function only(recipe: Recipe, keep: (step: StepName) => boolean): Recipe {
  return { ...recipe, steps: recipe.steps.map((step) => (keep(step.step) ? step : { ...step, off: true })) };
}

/**
 * A phrase worked out here in the page, as the server will do it again when it is saved: the captured notes,
 * the recipe's result, and the captured notes in the result's own frame (hollow), so that only real changes
 * part the pair.
 */
export function usePhraseClips(phrase: PhraseWire, take: Take, edit: PhraseEdit) {
  const { origins, streams, channel, program, pitchMap, locked } = phrase;
  const source: Clip = useMemo(() => {
    const known = { streams, channel, program, pitchMap, locked };
    return clipFromNotes(take, origins, { ...known, role: edit.role, key: edit.takeKey });
  }, [take, origins, streams, channel, program, pitchMap, locked, edit.role, edit.takeKey]);
  return useMemo(() => {
    const result = applyRecipe(source, edit.recipe);
    return {
      result,
      hollow: applyRecipe(
        source,
        only(edit.recipe, (step) => FRAME_STEPS.has(step)),
      ).clip,
      captured: applyRecipe(
        source,
        only(edit.recipe, (step) => step === 'bars'),
      ).clip,
    };
  }, [source, edit.recipe]);
}
