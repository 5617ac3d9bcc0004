import { useState } from 'react';
import type { TakeChange } from '../../../server/library/takes/takes.ts';
import { knownSchema } from '../../../requests/takes.ts';
import { Dialog } from '../../../ui/Dialog.tsx';
import { CheckedForm, SubmitButton, useCheckedForm } from '../../../ui/form/checked-form.tsx';
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
  const form = useCheckedForm(knownSchema, before);
  const isSame = Object.keys(changedSettings(before, form.watch())).length === 0;
  return (
    <CheckedForm form={form} onSubmit={(known) => onSave(changedSettings(before, known))}>
      <OriginFields />
      <AskedFields />
      <SubmitButton disabled={isSame}>Change</SubmitButton>
    </CheckedForm>
  );
}
