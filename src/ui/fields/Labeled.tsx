import { useId, type ReactNode } from 'react';

/** A field with its label above it; the field is given the id by which the label knows it. */
export function Labeled({
  label,
  className,
  children,
}: {
  label: string;
  className?: string;
  children: (id: string) => ReactNode;
}) {
  const id = useId();
  return (
    <div className={className}>
      <label className="label mb-1 block" htmlFor={id}>
        {label}
      </label>
      {children(id)}
    </div>
  );
}
