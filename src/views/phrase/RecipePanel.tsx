import { arrayMove } from '@dnd-kit/sortable';
import { toast } from 'sonner';
import type { Mode } from '../../core/music/key.ts';
import { withPreset } from '../../core/normalize/apply-preset.ts';
import { HOUSE, houseRecipe } from '../../core/normalize/house.ts';
import { orderProblem } from '../../core/normalize/order.ts';
import {
  STEP_NAMES,
  STEP_TITLES,
  type Recipe,
  type RecipeStep,
  type StepName,
  type StepReport,
} from '../../core/normalize/recipe.ts';
import type { Role } from '../../core/split/roles.ts';
import { SortableList } from '../../ui/SortableList.tsx';
import { useHouse } from '../api/queries.ts';
import { PresetMenu } from './PresetMenu.tsx';
import { StepCard } from './StepCard.tsx';

/** A step as it is added: doing as little as the step can. */
const NEW_STEPS: { [Name in StepName]: Extract<RecipeStep, { step: Name }> } = {
  bars: { step: 'bars', start: 1, count: 4 },
  pickup: { step: 'pickup', mode: 'keep' },
  switches: { step: 'switches', mode: 'lock', pitches: [] },
  drums: { step: 'drums', pairs: [] },
  pedal: { step: 'pedal', mode: 'length' },
  doubles: { step: 'doubles', ms: 10 },
  time: { step: 'time', factor: 2 },
  quantize: { step: 'quantize', grid: '1/16', strength: 1 },
  feel: { step: 'feel', feel: { grid: '1/16', places: [] }, timing: 1, accents: 0 },
  humanize: { step: 'humanize', ms: 6, velocity: 4, seed: 1 },
  velocity: { step: 'velocity', loud: 0.8, range: 1 },
  length: { step: 'length', factor: 1 },
  shift: { step: 'shift', ms: 0 },
  transpose: { step: 'transpose', semitones: 0 },
  register: { step: 'register', low: 36, high: 84 },
  controls: { step: 'controls', mode: 'settle' },
  edit: { step: 'edit' },
  channel: { step: 'channel', channel: 1 },
  name: { step: 'name', pattern: '{take}, {part}' },
  resolution: { step: 'resolution', ppq: 480 },
};

/** The recipe: its steps in order. */
export function RecipePanel({
  recipe,
  reports,
  role,
  mode,
  onChange,
}: {
  recipe: Recipe;
  reports: readonly StepReport[];
  role: Role;
  mode: Mode | null;
  onChange: (change: (recipe: Recipe) => Recipe, label: string) => void;
}) {
  const { data: house = HOUSE } = useHouse();
  /** Steps in an order that gives no sense are refused with the reason, and the recipe stays as it is. */
  const setSteps = (label: string, change: (steps: RecipeStep[]) => RecipeStep[]) => {
    const problem = orderProblem(change([...recipe.steps]));
    if (problem) toast.error(problem.reason);
    else onChange((old) => ({ ...old, steps: change([...old.steps]) }), label);
  };
  const add = (name: StepName) => {
    const step = name === 'drums' ? { ...NEW_STEPS.drums, pairs: house.drumMap } : NEW_STEPS[name];
    setSteps(`add ${STEP_TITLES[name]}`, (steps) => withStep(steps, step));
  };
  const items = recipe.steps.map((step, i) => ({ id: `${i} ${step.step}`, name: STEP_TITLES[step.step] }));
  const move = (from: number, to: number) => {
    if (to >= 0 && to < recipe.steps.length)
      setSteps(`order of ${items[from]!.name}`, (steps) => arrayMove(steps, from, to));
  };
  return (
    <section aria-label="Recipe">
      <div className="flex items-baseline justify-between border-b border-rule pb-1.5">
        <h2 className="text-lg">Recipe</h2>
        <PresetMenu
          recipe={recipe}
          role={role}
          onHouse={() =>
            onChange(
              (old) => withPreset(old, houseRecipe(role, null, mode, house)),
              `house standard for ${role}`,
            )
          }
          onFile={(read, file) => onChange((old) => withPreset(old, read), `recipe of ${file}`)}
          onPreset={(preset) => onChange((old) => withPreset(old, preset.recipe), `preset "${preset.name}"`)}
        />
      </div>
      <SortableList items={items} onOrder={move}>
        <ol>
          {recipe.steps.map((step, i) => (
            <StepCard
              key={items[i]!.id}
              id={items[i]!.id}
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
              onMove={(by) => move(i, i + by)}
              onRemove={() =>
                setSteps(`remove ${STEP_TITLES[step.step]}`, (steps) => steps.filter((_, at) => at !== i))
              }
            />
          ))}
        </ol>
      </SortableList>
      <select
        aria-label="Add a step"
        className="mt-2 h-7 rounded-[3px] border border-rule bg-card px-1.5 text-sm text-muted"
        value=""
        onChange={({ target: { value } }) => {
          const name = STEP_NAMES.find((step) => step === value);
          if (name) add(name);
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

/** The steps with one more: at the end, or where that gives no sense, at the last place that does. */
function withStep(steps: RecipeStep[], step: RecipeStep): RecipeStep[] {
  for (let at = steps.length; at > 0; at--) {
    const tried = steps.toSpliced(at, 0, step);
    if (!orderProblem(tried)) return tried;
  }
  return [step, ...steps];
}
