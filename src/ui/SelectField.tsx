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
