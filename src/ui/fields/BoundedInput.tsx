import { NumberInput } from './NumberInput.tsx';

/** A number within its limits that is named for whoever cannot see what stands beside it. */
export function BoundedInput({
  label,
  onValue,
  ...props
}: {
  label: string;
  className: string;
  value: number;
  min: number;
  max: number;
  step?: number;
  onValue: (value: number) => void;
}) {
  return <NumberInput aria-label={label} {...props} onValue={(value) => value !== null && onValue(value)} />;
}
