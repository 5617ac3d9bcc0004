/** Something that is so or not, with its words beside it. */
export function Checkbox({
  label,
  title,
  on,
  onChange,
}: {
  label: string;
  title?: string;
  on: boolean;
  onChange: (on: boolean) => void;
}) {
  return (
    <label className="flex min-h-6 items-center gap-2 text-sm" title={title}>
      <input type="checkbox" checked={on} onChange={({ target }) => onChange(target.checked)} />
      {label}
    </label>
  );
}
