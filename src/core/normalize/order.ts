import { REUSE_STEPS, STEP_TITLES, type RecipeStep, type StepName } from './recipe.ts';

/** Steps that cannot be taken before another, and why. */
const RULES: readonly {
  early: readonly StepName[];
  late: StepName;
  why: string;
  /** Where it depends on how they are set. */
  if?: (early: RecipeStep, late: RecipeStep) => boolean;
}[] = [
  {
    early: ['transpose', 'register'],
    late: 'switches',
    why: 'key switches are told by the keys they were captured on, and would have been moved with the music',
  },
  {
    early: ['time', 'pickup'],
    late: 'bars',
    why: 'bars are counted as they are written in the take',
  },
  {
    early: ['edit'],
    late: 'bars',
    why: 'what is done by hand is told in beats from the first bar of the phrase',
  },
  { early: ['bars'], late: 'bars', why: 'bars are counted as they are written in the take: cut once' },
  {
    early: ['controls'],
    late: 'pedal',
    why: 'the pedal is a controller, and would have been taken away before it is read',
    if: (early) => early.step === 'controls' && early.mode === 'drop',
  },
  ...(['bars', 'pickup', 'switches', 'drums', 'pedal', 'doubles', 'time'] as const).map((late) => ({
    early: REUSE_STEPS,
    late,
    why: 'another phrase is made of one that is settled',
  })),
  ...REUSE_STEPS.flatMap((late) => [
    {
      early: ['channel', 'name', 'resolution'] as const,
      late,
      why: 'how a phrase leaves is said when all its notes are there',
    },
  ]),
  ...(['through', 'density'] as const).map((late) => ({
    early: ['ending'] as const,
    late,
    why: 'an ending is made of the phrase as it then is',
  })),
  {
    early: ['name'],
    late: 'transpose',
    why: 'a name that says the key would say the one before',
    if: (early) => early.step === 'name' && early.pattern.includes('{key}'),
  },
  {
    early: ['name'],
    late: 'time',
    why: 'a name that says tempo or bars would say those before',
    if: (early) => early.step === 'name' && /\{(tempo|bars)\}/.test(early.pattern),
  },
];

/** Two steps in an order that gives no sense: where they stand, and why, as a sentence. Null where all is well. */
export function orderProblem(
  steps: readonly RecipeStep[],
): { early: number; late: number; reason: string } | null {
  for (const [late, step] of steps.entries()) {
    if (step.off) continue;
    for (const rule of RULES) {
      if (rule.late !== step.step) continue;
      const early = steps.findIndex(
        (other, at) =>
          at < late && !other.off && rule.early.includes(other.step) && (rule.if?.(other, step) ?? true),
      );
      if (early < 0) continue;
      const [before, after] = [steps[early]!, step].map(({ step: name }) => STEP_TITLES[name]);
      const reason = `${after} (step ${late + 1}) cannot come after ${before} (step ${early + 1}): ${rule.why}.`;
      return { early, late, reason };
    }
  }
  return null;
}
