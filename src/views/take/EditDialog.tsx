import { useState } from 'react';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { AskedFields, OriginFields } from './KnownFields.tsx';
import { knownSettings, NOTHING_KNOWN } from './known.ts';

/** What is said of one or several takes: only what is filled in is changed. */
export function EditDialog({
  open,
  title,
  onClose,
  onSave,
}: {
  open: boolean;
  title: string;
  onClose: () => void;
  onSave: (change: ReturnType<typeof knownSettings>) => void;
}) {
  const [known, setKnown] = useState(NOTHING_KNOWN);
  return (
    <Dialog
      open={open}
      onOpenChange={(next) => !next && onClose()}
      title={title}
      description="Only what is filled in is changed. A chart is held against what sounded at once."
    >
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          onSave(knownSettings(known));
          setKnown(NOTHING_KNOWN);
          onClose();
        }}
      >
        <OriginFields known={known} onChange={setKnown} />
        <AskedFields known={known} onChange={setKnown} />
        <Button kind="primary" type="submit" disabled={Object.keys(knownSettings(known)).length === 0}>
          Change
        </Button>
      </form>
    </Dialog>
  );
}
