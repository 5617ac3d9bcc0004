import { Labeled } from './Labeled.tsx';
import { NumberInput } from './NumberInput.tsx';

/** Where an empty field means something, it says what in a word, and its value may be null; where it means nothing, it cannot be left empty. */
type Value =
  | { empty: string; value: number | null; onChange: (value: number | null) => void }
  | { empty?: never; value: number | null; onChange: (value: number) => void };

/** A number in a range under its label. */
export function NumberField({
  label,
  min,
  max,
  step = 1,
  ...field
}: { label: string; min: number; max: number; step?: number } & Value) {
  return (
    <Labeled label={label}>
      {(id) => (
        <NumberInput
          id={id}
          className="field w-full"
          value={field.value}
          min={min}
          max={max}
          step={step}
          empty={field.empty}
          onValue={(value) => {
            if (field.empty !== undefined) field.onChange(value);
            else if (value !== null) field.onChange(value);
          }}
        />
      )}
    </Labeled>
  );
}
