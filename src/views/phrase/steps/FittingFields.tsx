import { baked, isFitting, type Fitting } from '../../../core/normalize/fitting.ts';
import type { Recipe } from '../../../core/normalize/recipe.ts';
import { Button } from '../../../ui/Button.tsx';
import { Choice, StepNumber } from './step-inputs.tsx';
import { EARLY } from './TimeFields.tsx';

/** What suits the sound that will play the phrase: applied when it leaves, and no part of its notes. */
export function FittingFields({
  fitting,
  recipe,
  onChange,
}: {
  fitting: Fitting;
  recipe: Recipe;
  onChange: (change: { fitting: Fitting; recipe: Recipe }, label: string) => void;
}) {
  const set = (next: Fitting, label: string) => onChange({ fitting: next, recipe }, label);
  const { shift, velocity } = fitting;
  return (
    <section aria-label="Fitting">
      <div className="flex items-baseline justify-between">
        <h2 className="text-base" title="Applied when the phrase leaves; what you hear here is plain">
          Fitting, on the way out
        </h2>
        <Button
          small
          kind="quiet"
          disabled={!isFitting(fitting)}
          title="Makes it part of the recipe, for good"
          onClick={() => onChange(baked(recipe, fitting), 'bake the fitting')}
        >
          Bake in
        </Button>
      </div>
      <div className="mt-1 flex flex-wrap items-center gap-x-3 gap-y-1 text-sm">
        <StepNumber
          label="ms for a sound that speaks late"
          name="fitting ms"
          value={shift?.ms ?? 0}
          min={-1000}
          max={1000}
          onValue={(ms) => {
            const { shift: _, ...rest } = fitting;
            set(ms === 0 ? rest : { ...rest, shift: { early: 'pickup', ...shift, ms } }, 'fitting shift');
          }}
        />
        {shift && (
          <Choice
            label="before bar 1"
            before
            value={shift.early ?? 'hold'}
            options={EARLY}
            onValue={(early) =>
              set({ ...fitting, shift: { ...shift, early: early as typeof shift.early } }, 'fitting shift')
            }
          />
        )}
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={velocity !== undefined}
            onChange={({ target }) => {
              const { velocity: _, ...rest } = fitting;
              set(target.checked ? { ...rest, velocity: { loud: 0.8 } } : rest, 'fitting level');
            }}
          />
          its own level
        </label>
        {velocity && (
          <StepNumber
            label="loud at"
            name="fitting loud at"
            before
            unit="%"
            value={Math.round(velocity.loud * 100)}
            min={1}
            max={100}
            onValue={(percent) =>
              set({ ...fitting, velocity: { ...velocity, loud: percent / 100 } }, 'fitting level')
            }
          />
        )}
      </div>
    </section>
  );
}
