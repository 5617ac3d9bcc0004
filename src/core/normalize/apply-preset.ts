import { REUSE_STEPS, type Recipe, type StepName } from './recipe.ts';

/** Steps that say how a phrase leaves, and do nothing to its notes: they come last. */
const LEAVING: ReadonlySet<StepName> = new Set<StepName>(['channel', 'name', 'resolution']);

/** Whether a step does something to notes: what is done by hand comes after all of those. */
export function isAboutNotes(step: StepName): boolean {
  return !LEAVING.has(step);
}

/** What makes this phrase of its captured notes, and no other: its chords, its length, what was done by hand. */
const OWN: ReadonlySet<StepName> = new Set<StepName>([...REUSE_STEPS, 'edit']);

/**
 * A preset in the place of a phrase's own recipe: its bars and pickup stay, what was made of it, and what was done by hand
 * stays the last word over the notes.
 */
export function withPreset(own: Recipe, preset: Recipe): Recipe {
  const kept = own.steps.filter(({ step }) => step === 'bars');
  const { steps } = asPreset(preset);
  const at = steps.findLastIndex(({ step }) => isAboutNotes(step)) + 1;
  steps.splice(at, 0, ...own.steps.filter(({ step }) => OWN.has(step)));
  return { version: 1, steps: [...kept, ...steps] };
}

/** A recipe as a preset: what belongs to one phrase alone is left out. */
export function asPreset(recipe: Recipe): Recipe {
  return { version: 1, steps: recipe.steps.filter(({ step }) => step !== 'bars' && !OWN.has(step)) };
}
