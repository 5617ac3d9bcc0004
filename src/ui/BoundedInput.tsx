/** A number that is taken over while it is typed, as long as it lies within its limits. */
export function BoundedInput({
  label,
  className,
  value,
  min,
  max,
  step = 1,
  onValue,
}: {
  label: string;
  className: string;
  value: number;
  min: number;
  max: number;
  step?: number;
  onValue: (value: number) => void;
}) {
  return (
    <input
      type="number"
      aria-label={label}
      className={className}
      min={min}
      max={max}
      step={step}
      value={value}
      onChange={({ target }) => {
        const next = Number(target.value);
        if (target.value !== '' && next >= min && next <= max) onValue(next);
      }}
    />
  );
}
