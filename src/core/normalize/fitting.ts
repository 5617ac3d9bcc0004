import type { Clip } from '../phrase/clip.ts';
import { applyRecipe, type Recipe, type RecipeStep } from './recipe.ts';
import type { ShiftParams } from './shift.ts';
import type { VelocityParams } from './velocity.ts';

/**
 * What suits the sound that will play a phrase, and not the phrase: kept beside its notes and applied on the way out. A
 * slow sound is played early, a loud one softer.
 */
export interface Fitting {
  shift?: ShiftParams;
  velocity?: VelocityParams;
}

/** The steps a fitting stands for, in their order. */
export function fittingSteps({ velocity, shift }: Fitting): RecipeStep[] {
  return [
    ...(velocity ? [{ step: 'velocity' as const, ...velocity }] : []),
    ...(shift ? [{ step: 'shift' as const, ...shift }] : []),
  ];
}

/** A clip as it leaves for the sound it is fitted to. */
export function fitted(clip: Clip, fitting: Fitting): Clip {
  return applyRecipe(clip, { version: 1, steps: fittingSteps(fitting) }).clip;
}

/** The same music with the fitting in the recipe, for good: the fitting is empty afterward. */
export function baked(recipe: Recipe, fitting: Fitting): { recipe: Recipe; fitting: Fitting } {
  const fits = fittingSteps(fitting);
  const at = recipe.steps.findIndex(({ step }) => step === 'resolution');
  const steps = [...recipe.steps];
  // Before the resolution is the finer of the two; a recipe without one takes it at its end.
  steps.splice(at < 0 ? steps.length : at, 0, ...fits);
  return { recipe: { ...recipe, steps }, fitting: {} };
}

/** Whether it does anything. */
export function isFitting(fitting: Fitting): boolean {
  return fittingSteps(fitting).length > 0;
}

/** A fitting for people: "30 ms earlier, loud notes at 75 %". */
export function fittingInWords({ shift, velocity }: Fitting): string {
  return [
    shift ? `${Math.abs(shift.ms)} ms ${shift.ms < 0 ? 'earlier' : 'later'}` : '',
    velocity ? `loud notes at ${Math.round(velocity.loud * 100)} %` : '',
  ]
    .filter(Boolean)
    .join(', ');
}
