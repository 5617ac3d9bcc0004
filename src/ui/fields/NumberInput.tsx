import { useId, useState, type InputHTMLAttributes } from 'react';

/**
 * A number in a range. What is typed counts as soon as it lies in the range; what lies outside is told with the range while it is
 * typed, and goes to the nearest number in it when the field is left.
 */
export function NumberInput({
  value,
  min,
  max,
  step = 1,
  empty,
  onValue,
  className = '',
  ...props
}: {
  /** Null where the field is empty. */
  value: number | null;
  min: number;
  max: number;
  step?: number | 'any';
  /** What an empty field means, in a word; where it means nothing, it cannot be left empty. */
  empty?: string | undefined;
  onValue: (value: number | null) => void;
} & Omit<InputHTMLAttributes<HTMLInputElement>, 'value' | 'onChange' | 'min' | 'max' | 'step'>) {
  const [draft, setDraft] = useState<string | null>(null);
  const hint = useId();
  const typed = draft === null || draft === '' ? null : Number(draft);
  const isOutside = typed !== null && !(typed >= min && typed <= max);
  return (
    <span className="relative block">
      <input
        {...props}
        type="number"
        min={min}
        max={max}
        step={step}
        placeholder={empty}
        className={`${className} ${isOutside ? 'border-madder' : ''}`}
        aria-invalid={isOutside || undefined}
        aria-describedby={isOutside ? hint : undefined}
        value={draft ?? value ?? ''}
        onChange={({ target: { value: text } }) => {
          setDraft(text);
          const next = Number(text);
          if (text === '') {
            if (empty !== undefined) onValue(null);
          } else if (next >= min && next <= max) onValue(next);
        }}
        onBlur={(event) => {
          if (isOutside) onValue(Math.min(max, Math.max(min, typed)));
          setDraft(null);
          props.onBlur?.(event);
        }}
      />
      {isOutside && (
        <span
          id={hint}
          role="alert"
          className="absolute bottom-full left-0 z-30 mb-1 rounded-[3px] border border-madder bg-card px-1.5 py-0.5 text-xs whitespace-nowrap text-madder shadow"
        >
          {min.toLocaleString('en')} to {max.toLocaleString('en')}
        </span>
      )}
    </span>
  );
}
