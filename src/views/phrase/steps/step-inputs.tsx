import type { RecipeStep } from '../../../core/normalize/recipe.ts';
import { BoundedInput } from '../../../ui/fields/BoundedInput.tsx';

/** What the fields of a step are given. */
export type FieldsProps<Name extends RecipeStep['step']> = {
  step: Extract<RecipeStep, { step: Name }>;
  onChange: (step: RecipeStep) => void;
};

/** A number of a step with what it counts. */
export function StepNumber({
  label,
  name = label,
  unit,
  before = false,
  value,
  min,
  max,
  step = 1,
  onValue,
}: {
  label: string;
  name?: string;
  unit?: string;
  before?: boolean;
  value: number;
  min: number;
  max: number;
  step?: number;
  onValue: (value: number) => void;
}) {
  return (
    <label className="flex items-center gap-1.5">
      {before && <span className="text-muted">{label}</span>}
      <BoundedInput
        label={name}
        className="h-6 w-15 rounded-[3px] border border-rule bg-card px-1.5"
        value={value}
        min={min}
        max={max}
        step={step}
        onValue={onValue}
      />
      {unit ?? (!before && <span className="text-muted">{label}</span>)}
    </label>
  );
}

export function Choice({
  label,
  before = false,
  value,
  options,
  onValue,
}: {
  label: string;
  before?: boolean;
  value: string;
  options: readonly (readonly [string, string])[];
  onValue: (value: string) => void;
}) {
  return (
    <label className="flex items-center gap-1.5">
      {before && <span className="text-muted">{label}</span>}
      <select
        className="h-6 rounded-[3px] border border-rule bg-card px-1"
        value={value}
        onChange={(event) => onValue(event.target.value)}
        aria-label={label}
      >
        {!options.some(([option]) => option === value) && <option value={value}>{value}</option>}
        {options.map(([option, text]) => (
          <option key={option} value={option}>
            {text}
          </option>
        ))}
      </select>
      {!before && <span className="text-muted">{label}</span>}
    </label>
  );
}

/** The seed of a step: the same one chooses the same. */
export function SeedNumber({
  value,
  onValue,
}: {
  value: number | undefined;
  onValue: (seed: number) => void;
}) {
  return <StepNumber label="seed" before value={value ?? 1} min={0} max={9999} onValue={onValue} />;
}
