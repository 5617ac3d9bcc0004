import { useMemo } from 'react';
import type { Take } from '../../core/capture/take.ts';
import type { Fitting } from '../../core/normalize/fitting.ts';
import { withPickupBar } from '../../core/normalize/pickup.ts';
import { applyRecipe, type Recipe, type StepName } from '../../core/normalize/recipe.ts';
import { clipFromNotes, type Clip } from '../../core/phrase/clip.ts';
import type { PhraseChange } from '../../server/library/phrases.ts';
import type { PhraseWire } from '../api/queries.ts';

/** What can be changed about a phrase, all of it under one history. */
export type PhraseEdit = Omit<PhraseChange, 'state' | 'fitting'> & { fitting: Fitting };

export function editOf(phrase: PhraseWire): PhraseEdit {
  const { name, role, takeKey, recipe, fitting, tags, projectId, rights } = phrase;
  return { name, role, takeKey, recipe, fitting, tags, projectId, rights };
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
const FRAME_STEPS: ReadonlySet<StepName> = new Set<StepName>([
  'bars',
  'pickup',
  'switches',
  'drums',
  'time',
  'transpose',
  'register',
  'resolution',
]);

function only(recipe: Recipe, keep: (step: StepName) => boolean): Recipe {
  return { ...recipe, steps: recipe.steps.map((step) => (keep(step.step) ? step : { ...step, off: true })) };
}

/**
 * A phrase worked out here in the page, as the server will do it again when it is saved: the captured notes,
 * the recipe's result, and the captured notes in the result's own frame (hollow), so that only real changes
 * part the pair.
 */
export function usePhraseClips(phrase: PhraseWire, take: Take, edit: PhraseEdit) {
  const { origins, streams, pitchMap, locked } = phrase;
  const program = phrase.partProgram ?? phrase.program;
  const { takeName, partName: part, startBar: start, number } = phrase;
  const labels = useMemo(() => ({ take: takeName, part, start, number }), [takeName, part, start, number]);
  const source: Clip = useMemo(() => {
    const channel = edit.role === 'drums' ? 9 : 0;
    const known = { streams, channel, program, pitchMap, locked, labels };
    return clipFromNotes(take, origins, { ...known, role: edit.role, key: edit.takeKey });
  }, [take, origins, streams, program, pitchMap, locked, labels, edit.role, edit.takeKey]);
  return useMemo(() => {
    const result = applyRecipe(source, edit.recipe);
    const frame = applyRecipe(
      source,
      only(edit.recipe, (step) => FRAME_STEPS.has(step)),
    ).clip;
    return {
      result,
      // A shift may have made room for a pickup: bar one stands under bar one.
      hollow: result.clip.pickup > frame.pickup ? withPickupBar(frame) : frame,
      captured: applyRecipe(
        source,
        only(edit.recipe, (step) => step === 'bars'),
      ).clip,
    };
  }, [source, edit.recipe]);
}
