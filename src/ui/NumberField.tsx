import { Labeled } from './Labeled.tsx';
import { NumberInput } from './NumberInput.tsx';

/** A number in a range under its label. */
export function NumberField({
  label,
  value,
  min,
  max,
  step = 1,
  empty,
  onChange,
}: {
  label: string;
  /** Null where the field is empty. */
  value: number | null;
  min: number;
  max: number;
  step?: number;
  /** What an empty field means, in a word; where it means nothing, it cannot be left empty. */
  empty?: string;
  onChange: (value: number | null) => void;
}) {
  return (
    <Labeled label={label}>
      {(id) => (
        <NumberInput
          id={id}
          className="field w-full"
          value={value}
          min={min}
          max={max}
          step={step}
          empty={empty}
          onValue={onChange}
        />
      )}
    </Labeled>
  );
}
