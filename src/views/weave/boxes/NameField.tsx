import { Labeled } from '../../../ui/fields/Labeled.tsx';

/** What a section or part is called. */
export function NameField({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string;
  onChange: (name: string) => void;
}) {
  return (
    <Labeled label={label}>
      {(id) => (
        <input
          id={id}
          className="field w-full font-display font-bold"
          value={value}
          maxLength={80}
          onChange={({ target }) => onChange(target.value)}
        />
      )}
    </Labeled>
  );
}
