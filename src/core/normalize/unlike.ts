import stringify from 'fast-json-stable-stringify';
import { activeStep, STEP_TITLES, type Recipe, type RecipeStep, type StepName } from './recipe.ts';

/** Whether two recipes list the same steps; in which order their fields are written says nothing. */
export function sameSteps(a: readonly { step: string }[], b: readonly { step: string }[]): boolean {
  return stringify(a) === stringify(b);
}

/** What a recipe does otherwise than the usual one, in words: "plays 12 ms late, quantized to 1/8 at 100 %". */
export function unlikeInWords(own: Recipe, usual: Recipe): string {
  const changed = own.steps
    .filter((step) => !step.off && stringify(step) !== stringify(activeStep(usual, step.step)))
    .map(stepInWords);
  const missing = usual.steps
    .filter(({ step, off }) => !off && !activeStep(own, step))
    .map(({ step }) => `no ${STEP_TITLES[step].toLowerCase()}`);
  return [...changed, ...missing].join(', ') || 'the usual steps in another order';
}

/** A step in a few words, by what most want to know of it. */
export function stepInWords(step: RecipeStep): string {
  switch (step.step) {
    case 'quantize':
      return `quantized to ${step.grid} at ${Math.round((step.strength ?? 1) * 100)} %`;
    case 'velocity':
      return `loud notes at ${Math.round(step.loud * 100)} %${(step.range ?? 1) === 1 ? '' : `, range × ${step.range}`}`;
    case 'shift':
      return `played ${Math.abs(step.ms)} ms ${step.ms < 0 ? 'early' : 'late'}`;
    case 'length':
      return `notes at ${Math.round(step.factor * 100)} % of their length`;
    case 'transpose':
      return step.to === undefined ? `${step.semitones} semitones` : `to ${step.to}`;
    case 'humanize':
      return `humanized by ${step.ms} ms`;
    default:
      return STEP_TITLES[step.step satisfies StepName].toLowerCase();
  }
}
