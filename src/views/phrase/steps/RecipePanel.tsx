import { arrayMove } from '@dnd-kit/sortable';
import { toast } from 'sonner';
import type { Mode } from '../../../core/music/key.ts';
import { withPreset } from '../../../core/normalize/apply-preset.ts';
import { HOUSE, houseRecipe } from '../../../core/normalize/house.ts';
import { newStep, withNewStep } from '../../../core/normalize/new-step.ts';
import { orderProblem } from '../../../core/normalize/order.ts';
import {
  STEP_NAMES,
  STEP_TITLES,
  type Recipe,
  type RecipeStep,
  type StepName,
  type StepReport,
} from '../../../core/normalize/recipe.ts';
import type { Role } from '../../../core/split/roles.ts';
import { SortableList } from '../../../ui/SortableList.tsx';
import { useHouse } from '../../api/queries.ts';
import { PresetMenu } from './PresetMenu.tsx';
import { StepCard } from './StepCard.tsx';

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
    const step = newStep(name, role, mode, house);
    setSteps(`add ${STEP_TITLES[name]}`, (steps) => withNewStep(steps, step));
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
