import { useMemo } from 'react';
import type { Take } from '../../core/capture/take.ts';
import { withPickupBar } from '../../core/normalize/pickup.ts';
import { keptResult, type Recipe, type StepName } from '../../core/normalize/recipe.ts';
import { clipFromNotes, type Clip } from '../../core/phrase/clip.ts';
import type { PhraseEdit } from '../../core/merge/phrase-edits.ts';
import type { PhraseWire } from '../api/queries.ts';

/** Changes that are not saved, and what they were made on. */
interface Unsaved {
  value: PhraseEdit;
  base: PhraseEdit;
}

/** Where changes that are not saved outlast a reload of the window. */
const unsavedKey = (id: string) => `unsaved ${id}`;

/** Changes of a phrase that were never saved. */
export function unsavedEdit(id: string): (Unsaved & { label: string }) | undefined {
  const text = sessionStorage.getItem(unsavedKey(id));
  return text ? { ...(JSON.parse(text) as Unsaved), label: 'changes that were not saved' } : undefined;
}

export function rememberUnsaved(id: string, unsaved: Unsaved | null): void {
  if (unsaved) sessionStorage.setItem(unsavedKey(id), JSON.stringify(unsaved));
  else sessionStorage.removeItem(unsavedKey(id));
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
  const { origins, streams, pitchMap, locked, capturedKey } = phrase;
  const program = phrase.partProgram ?? phrase.program;
  const { takeName, partName: part, startBar: start, number } = phrase;
  const labels = useMemo(() => ({ take: takeName, part, start, number }), [takeName, part, start, number]);
  const source: Clip = useMemo(() => {
    const channel = edit.role === 'drums' ? 9 : 0;
    const known = { streams, channel, program, pitchMap, locked, labels };
    return clipFromNotes(take, origins, { ...known, role: edit.role, key: capturedKey ?? edit.takeKey });
  }, [take, origins, streams, program, pitchMap, locked, labels, edit.role, edit.takeKey, capturedKey]);
  return useMemo(() => {
    const result = keptResult(source, edit.recipe);
    const frame = keptResult(
      source,
      only(edit.recipe, (step) => FRAME_STEPS.has(step)),
    ).clip;
    return {
      result,
      // A shift may have made room for a pickup: bar one stands under bar one.
      hollow: result.clip.pickup > frame.pickup ? withPickupBar(frame) : frame,
      captured: keptResult(
        source,
        only(edit.recipe, (step) => step === 'bars'),
      ).clip,
    };
  }, [source, edit.recipe]);
}
