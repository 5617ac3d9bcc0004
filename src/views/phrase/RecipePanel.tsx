import { houseRecipe } from '../../core/normalize/presets.ts';
import {
  STEP_NAMES,
  STEP_TITLES,
  type Recipe,
  type RecipeStep,
  type StepName,
  type StepReport,
} from '../../core/normalize/recipe.ts';
import type { Role } from '../../core/split/roles.ts';
import { Button } from '../../ui/Button.tsx';
import { StepCard } from './StepCard.tsx';

/** A new step as it begins: changing as little as the step can. */
const NEW_STEPS: Record<StepName, RecipeStep> = {
  bars: { step: 'bars', start: 1, count: 4 },
  pedal: { step: 'pedal', mode: 'length' },
  doubles: { step: 'doubles', ms: 10 },
  time: { step: 'time', factor: 2 },
  quantize: { step: 'quantize', grid: '1/16', strength: 1 },
  humanize: { step: 'humanize', ms: 6, velocity: 4, seed: 1 },
  velocity: { step: 'velocity', loud: 0.8, range: 1 },
  length: { step: 'length', factor: 1 },
  shift: { step: 'shift', ms: 0 },
  transpose: { step: 'transpose', semitones: 0 },
  register: { step: 'register', low: 36, high: 84 },
  controls: { step: 'controls', mode: 'settle' },
  resolution: { step: 'resolution', ppq: 960 },
};

/** The recipe: its steps in order. */
export function RecipePanel({
  recipe,
  reports,
  role,
  minor,
  onChange,
}: {
  recipe: Recipe;
  reports: readonly StepReport[];
  role: Role;
  minor: boolean;
  onChange: (change: (recipe: Recipe) => Recipe, label: string) => void;
}) {
  const setSteps = (label: string, change: (steps: RecipeStep[]) => RecipeStep[]) =>
    onChange((old) => ({ ...old, steps: change([...old.steps]) }), label);
  const house = () => {
    const bars = recipe.steps.find((step) => step.step === 'bars');
    onChange(() => houseRecipe(role, bars ?? { start: 1, count: 4 }, minor), `house standard for ${role}`);
  };
  return (
    <section aria-label="Recipe">
      <div className="flex items-baseline justify-between border-b border-rule pb-1.5">
        <h2 className="text-lg">Recipe</h2>
        <Button
          small
          kind="quiet"
          onClick={house}
          title={`The house standard for ${role}, for the same bars`}
        >
          house standard, {role}
        </Button>
      </div>
      <ol>
        {recipe.steps.map((step, i) => (
          <StepCard
            key={`${i} ${step.step}`}
            step={step}
            report={reports[i]}
            isDrums={role === 'drums' || role === 'percussion'}
            onChange={(next) =>
              setSteps(
                next.off !== step.off
                  ? `${STEP_TITLES[step.step]} ${next.off ? 'off' : 'on'}`
                  : STEP_TITLES[step.step],
                (steps) => steps.map((old, at) => (at === i ? next : old)),
              )
            }
            onMove={(by) =>
              setSteps(`order of ${STEP_TITLES[step.step]}`, (steps) => {
                const to = i + by;
                if (to < 0 || to >= steps.length) return steps;
                [steps[i], steps[to]] = [steps[to]!, steps[i]!];
                return steps;
              })
            }
            onRemove={() =>
              setSteps(`remove ${STEP_TITLES[step.step]}`, (steps) => steps.filter((_, at) => at !== i))
            }
          />
        ))}
      </ol>
      <select
        aria-label="Add a step"
        className="mt-2 h-7 rounded-[3px] border border-rule bg-card px-1.5 text-sm text-muted"
        value=""
        onChange={({ target: { value } }) => {
          const name = STEP_NAMES.find((step) => step === value);
          if (name) setSteps(`add ${STEP_TITLES[name]}`, (steps) => [...steps, NEW_STEPS[name]]);
        }}
      >
        <option value="">Add a step ...</option>
        {STEP_NAMES.map((name) => (
          <option key={name} value={name}>
            {STEP_TITLES[name]}
          </option>
        ))}
      </select>
    </section>
  );
}
