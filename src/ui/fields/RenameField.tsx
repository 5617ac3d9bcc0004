import { useState } from 'react';

/** A name that is text until it is clicked or focused: Enter or leaving keeps it, Escape leaves it as it was. */
export function RenameField({
  label,
  value,
  onRename,
  className = '',
}: {
  label: string;
  value: string;
  onRename: (value: string) => void;
  className?: string;
}) {
  const [draft, setDraft] = useState<string | null>(null);
  const finish = (text: string | null) => {
    setDraft(null);
    const name = text?.trim();
    if (name && name !== value) onRename(name);
  };
  return (
    <input
      aria-label={label}
      className={`w-full min-w-0 truncate rounded-[3px] border border-transparent bg-transparent hover:border-rule focus:bg-card ${className}`}
      value={draft ?? value}
      maxLength={200}
      onChange={(event) => setDraft(event.target.value)}
      onBlur={() => finish(draft)}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key === 'Escape') {
          setDraft(null);
          event.stopPropagation();
        }
      }}
    />
  );
}
