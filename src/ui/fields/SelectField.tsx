import type { ReactNode } from 'react';
import { Labeled } from './Labeled.tsx';

/** A choice of one among several, with its label above it; `children` are its options. */
export function SelectField({
  label,
  value,
  className,
  disabled = false,
  onChange,
  children,
}: {
  label: string;
  value: string | number;
  className?: string;
  disabled?: boolean;
  onChange: (value: string) => void;
  children: ReactNode;
}) {
  return (
    <Labeled label={label} {...(className ? { className } : {})}>
      {(id) => (
        <select
          id={id}
          className="field w-full"
          value={value}
          disabled={disabled}
          onChange={({ target }) => onChange(target.value)}
        >
          {children}
        </select>
      )}
    </Labeled>
  );
}

/** A choice of one among several that are told by their words, in the order of these. */
export function ChoiceField<Value extends string>({
  label,
  words,
  value,
  shut = [],
  onChange,
}: {
  label: string;
  words: Readonly<Record<Value, string>>;
  value: Value;
  /** Those that cannot be chosen now. */
  shut?: readonly Value[];
  onChange: (value: Value) => void;
}) {
  return (
    <SelectField label={label} value={value} onChange={(chosen) => onChange(chosen as Value)}>
      {(Object.entries(words) as [Value, string][]).map(([one, text]) => (
        <option key={one} value={one} disabled={shut.includes(one)}>
          {text}
        </option>
      ))}
    </SelectField>
  );
}
