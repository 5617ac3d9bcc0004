import { plural } from '../../../core/words.ts';
import { Button } from '../../../ui/Button.tsx';
import { Dialog } from '../../../ui/Dialog.tsx';
import { RoleMark } from '../../../ui/drawing/RoleMark.tsx';
import type { Strand } from '../../shared/takes/strand-columns.ts';

/** Chosen notes go to another part, or to one of their own. */
export function GiveDialog({
  notes,
  others,
  onClose,
  onGive,
  onOwn,
}: {
  notes: number;
  others: readonly Strand[];
  onClose: () => void;
  onGive: (part: string) => void;
  onOwn: () => void;
}) {
  const choose = (act: () => void) => () => {
    act();
    onClose();
  };
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title={`Give ${plural(notes, 'note')} to`}
      description="They leave the part they are in; nothing is copied."
    >
      <ul className="grid gap-1">
        <li>
          <Button className="w-full" onClick={choose(onOwn)}>
            A part of their own
          </Button>
        </li>
        {others.map(({ part }) => (
          <li key={part.id}>
            <Button className="w-full justify-between" onClick={choose(() => onGive(part.id))}>
              {part.name} <RoleMark role={part.role} />
            </Button>
          </li>
        ))}
      </ul>
    </Dialog>
  );
}
