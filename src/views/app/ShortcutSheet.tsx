import { useMemo } from 'react';
import { currentActions, keyWords } from '../../ui/actions.ts';
import { Dialog } from '../../ui/Dialog.tsx';

/** What keys do here, on one sheet: what the view offers first, then what works everywhere. */
export function ShortcutSheet({
  open,
  onOpenChange,
}: {
  open: boolean;
  onOpenChange: (open: boolean) => void;
}) {
  const groups = useMemo(() => (open ? currentActions() : []), [open]);
  return (
    <Dialog open={open} onOpenChange={onOpenChange} title="Shortcuts">
      <div className="grid gap-4">
        {groups.map(({ name, actions }) => (
          <section key={name}>
            <h3 className="mb-1">{name}</h3>
            <dl className="grid grid-cols-[170px_1fr] gap-y-0.5">
              {actions
                .filter(({ keys }) => keys && keys.length > 0)
                .map(({ title, keys }) => (
                  <div key={title} className="contents">
                    <dt className="text-muted">{keys!.map(keyWords).join(', ')}</dt>
                    <dd>{title}</dd>
                  </div>
                ))}
            </dl>
          </section>
        ))}
      </div>
    </Dialog>
  );
}
