import { useState } from 'react';
import type { TakeChange } from '../../../server/library/takes.ts';
import { Button } from '../../../ui/Button.tsx';
import { Dialog } from '../../../ui/Dialog.tsx';
import { AskedFields, OriginFields } from './KnownFields.tsx';
import { changedSettings, knownOf } from './known.ts';

/** What is said of one or several takes, as it is known: only what is changed is written. */
export function EditDialog({
  open,
  title,
  takes,
  onClose,
  onSave,
}: {
  open: boolean;
  title: string;
  takes: Parameters<typeof knownOf>[0];
  onClose: () => void;
  onSave: (change: TakeChange) => void;
}) {
  return (
    <Dialog
      open={open}
      onOpenChange={(next) => !next && onClose()}
      title={title}
      description={
        takes.length > 1
          ? 'What they have in common stands here. Only what you change is written, in all of them.'
          : 'A chart is held against what sounded at once. What you empty is no longer said.'
      }
    >
      {open && (
        <EditForm
          takes={takes}
          onSave={(change) => {
            onSave(change);
            onClose();
          }}
        />
      )}
    </Dialog>
  );
}

function EditForm({
  takes,
  onSave,
}: {
  takes: Parameters<typeof knownOf>[0];
  onSave: (change: TakeChange) => void;
}) {
  const [before] = useState(() => knownOf(takes));
  const [known, setKnown] = useState(before);
  const change = changedSettings(before, known);
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        onSave(change);
      }}
    >
      <OriginFields known={known} onChange={setKnown} />
      <AskedFields known={known} onChange={setKnown} />
      <Button kind="primary" type="submit" disabled={Object.keys(change).length === 0}>
        Change
      </Button>
    </form>
  );
}
