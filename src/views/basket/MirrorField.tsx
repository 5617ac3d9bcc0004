import { useState } from 'react';
import { Link } from 'react-router';
import { safeFileName } from '../../core/phrase/naming.ts';
import { Checkbox } from '../../ui/fields/Checkbox.tsx';

/** Whether a basket is a folder too, and what that folder is called. */
export function MirrorField({
  mirror,
  name,
  onChange,
}: {
  mirror: string | null;
  /** Of the basket. */
  name: string;
  onChange: (mirror: string | null) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const leave = () => {
    if (typed !== null && typed.trim()) onChange(safeFileName(typed));
    setTyped(null);
  };
  return (
    <section aria-label="Mirror" className="grid gap-1">
      <Checkbox
        label="mirrored to a folder"
        title="A folder in step with the basket, for other programs to look into"
        on={mirror !== null}
        onChange={(on) => onChange(on ? safeFileName(name) : null)}
      />
      {mirror !== null && (
        <>
          <input
            className="field w-full"
            aria-label="Folder of the mirror"
            maxLength={120}
            value={typed ?? mirror}
            onChange={({ target }) => setTyped(target.value)}
            onBlur={leave}
            onKeyDown={({ key }) => key === 'Enter' && leave()}
          />
          <Link className="text-sm text-muted underline hover:text-ink" to="/handoff/mirror">
            How the mirror stands
          </Link>
        </>
      )}
    </section>
  );
}
