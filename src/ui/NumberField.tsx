import { useState } from 'react';
import { Labeled } from './Labeled.tsx';

/** A number in a range. What is typed counts as soon as it lies in the range; left, the field shows what counts. */
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
  const [draft, setDraft] = useState<string | null>(null);
  return (
    <Labeled label={label}>
      {(id) => (
        <input
          id={id}
          type="number"
          className="field w-full"
          min={min}
          max={max}
          step={step}
          placeholder={empty}
          value={draft ?? value ?? ''}
          onChange={(event) => {
            const text = event.target.value;
            setDraft(text);
            const next = Number(text);
            if (text === '') {
              if (empty !== undefined) onChange(null);
            } else if (next >= min && next <= max) onChange(next);
          }}
          onBlur={() => setDraft(null)}
        />
      )}
    </Labeled>
  );
}
