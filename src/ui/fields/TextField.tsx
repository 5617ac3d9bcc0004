import { Labeled } from './Labeled.tsx';

/** A line of text under its label. */
export function TextField({
  label,
  value,
  maxLength,
  placeholder,
  className,
  onChange,
}: {
  label: string;
  value: string;
  maxLength: number;
  placeholder?: string | undefined;
  className?: string;
  onChange: (value: string) => void;
}) {
  return (
    <Labeled label={label} {...(className ? { className } : {})}>
      {(id) => (
        <input
          id={id}
          className="field w-full"
          maxLength={maxLength}
          placeholder={placeholder}
          value={value}
          onChange={({ target }) => onChange(target.value)}
        />
      )}
    </Labeled>
  );
}
