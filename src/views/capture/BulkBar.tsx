import { arrayMove } from '@dnd-kit/sortable';
import { useMutation } from '@tanstack/react-query';
import { GripVertical } from 'lucide-react';
import { useNavigate } from 'react-router';
import type { JoinWay } from '../../core/capture/blocks.ts';
import { plural } from '../../core/words.ts';
import { joinTakesSchema } from '../../requests/takes.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { CheckedForm, SubmitButton, useCheckedForm } from '../../ui/form/checked-form.tsx';
import { FormChoice, FormText, useFormField } from '../../ui/form/form-fields.tsx';
import { SortableList, useSortableRow } from '../../ui/SortableList.tsx';
import { sendJson } from '../api/client.ts';
import { tellProblem, renew, type TakeRowWire } from '../api/queries.ts';
import type { useTakeChanges } from '../shared/takes/bulk.ts';
import { EditDialog } from '../shared/takes/EditDialog.tsx';
import { useMakeMany } from '../shared/takes/make-many.ts';
import { CompDialog } from './CompDialog.tsx';

/** The dialog that is open about the chosen takes. */
export type BulkDialog = 'edit' | 'join' | 'comp' | null;

/** What can be done with the takes that are chosen. */
export function BulkBar({
  chosen,
  changes,
  open,
  onOpen: setOpen,
  onDone,
}: {
  chosen: readonly TakeRowWire[];
  changes: ReturnType<typeof useTakeChanges>;
  open: BulkDialog;
  onOpen: (open: BulkDialog) => void;
  onDone: () => void;
}) {
  const ids = chosen.map(({ id }) => id);
  const number = plural(chosen.length, 'take');
  const many = useMakeMany();
  const away = chosen.every(({ aside }) => aside);
  return (
    <div
      className="mb-2 flex items-center gap-2 rounded-[3px] bg-select px-2 py-1"
      role="group"
      aria-label="Chosen takes"
    >
      <b>{number} chosen</b>
      <Button small onClick={() => setOpen('edit')}>
        Edit
      </Button>
      <Button
        small
        disabled={chosen.length < 2}
        onClick={() => setOpen('join')}
        title="Passes of one performance, all from bar one"
      >
        Join to one take
      </Button>
      <Button
        small
        disabled={chosen.length < 2}
        onClick={() => setOpen('comp')}
        title="Passes over one chart, side by side: the best bars of them as one take"
      >
        Comp
      </Button>
      <Button
        small
        disabled={many.isBusy || away}
        onClick={() => many.make(chosen)}
        title="All bars of every part, as drafts by the house recipe of their role"
      >
        {many.progress ? `${many.progress.done} of ${many.progress.of} made` : 'Make phrases'}
      </Button>
      {many.progress && (
        <Button small onClick={many.stop}>
          Stop
        </Button>
      )}
      <Button small onClick={() => setTakesAside(changes, ids, !away)}>
        {away ? 'Bring back' : 'Set aside'}
      </Button>
      <Button small kind="quiet" className="ml-auto" onClick={onDone}>
        Choose none
      </Button>
      <EditDialog
        open={open === 'edit'}
        title={`Edit ${number}`}
        takes={chosen}
        onClose={() => setOpen(null)}
        onSave={(change) => changes.mutate({ ids, change, done: `${number} changed`, what: 'the change' })}
      />
      <CompDialog open={open === 'comp'} takes={chosen} onClose={() => setOpen(null)} />
      <JoinDialog open={open === 'join'} takes={chosen} onClose={() => setOpen(null)} onDone={onDone} />
    </div>
  );
}

/** Sets takes aside, or brings them back. */
export function setTakesAside(
  changes: ReturnType<typeof useTakeChanges>,
  ids: readonly string[],
  aside: boolean,
): void {
  const number = plural(ids.length, 'take');
  changes.mutate({
    ids,
    change: { aside },
    done: aside ? `${number} set aside` : `${number} brought back`,
    what: aside ? 'setting aside' : 'bringing back',
  });
}

function JoinDialog({
  open,
  takes,
  onClose,
  onDone,
}: {
  open: boolean;
  takes: readonly TakeRowWire[];
  onClose: () => void;
  onDone: () => void;
}) {
  return (
    <Dialog
      open={open}
      onOpenChange={(next) => !next && onClose()}
      title={`Join ${takes.length} takes to one`}
      description="What they are joined to is a take of its own; they are set aside, not deleted."
    >
      {open && (
        <JoinForm
          takes={takes}
          onDone={() => {
            onClose();
            onDone();
          }}
        />
      )}
    </Dialog>
  );
}

function JoinForm({ takes, onDone }: { takes: readonly TakeRowWire[]; onDone: () => void }) {
  const join = useJoin(onDone);
  const form = useCheckedForm(joinTakesSchema, {
    ids: takes.map(({ id }) => id),
    name: takes[0]?.name ?? '',
    way: 'over',
  });
  return (
    <CheckedForm form={form} onSubmit={(said) => join.mutateAsync(said)}>
      <FormText name="name" label="Name of the take" maxLength={200} />
      <FormChoice name="way" label="How" words={WAY_WORDS} />
      {form.watch('way') === 'after' && <BlocksInOrder takes={takes} />}
      <SubmitButton>Join</SubmitButton>
    </CheckedForm>
  );
}

/** The blocks as they will follow each other, moved by their handles. */
function BlocksInOrder({ takes }: { takes: readonly TakeRowWire[] }) {
  const { value: ids, onChange } = useFormField<string[]>('ids');
  const items = ids.map((id) => ({ id, name: takes.find((take) => take.id === id)?.name ?? '' }));
  return (
    <SortableList items={items} onOrder={(from, to) => onChange(arrayMove(ids, from, to))}>
      <ol aria-label="In this order">
        {items.map(({ id, name }, k) => (
          <BlockRow key={id} id={id} name={name} number={k + 1} />
        ))}
      </ol>
    </SortableList>
  );
}

const WAY_WORDS: Record<JoinWay, string> = {
  over: 'over each other: passes of one performance, all from bar one',
  after: 'one after another: blocks, in the order below',
};

/** A block at its place, with a handle by which it is moved. */
function BlockRow({ id, name, number }: { id: string; name: string; number: number }) {
  const { row, handle } = useSortableRow(id);
  return (
    <li {...row} className="flex items-center gap-2 border-t border-thread bg-card py-1">
      <button type="button" className="cursor-grab px-1 text-muted" aria-label={`Move ${name}`} {...handle}>
        <GripVertical size={14} aria-hidden="true" />
      </button>
      <span className="w-5 text-right text-muted tabular-nums">{number}</span>
      <span className="truncate">{name}</span>
    </li>
  );
}

/** Joins passes and opens the take they make. */
export function useJoin(onJoined?: () => void) {
  const navigate = useNavigate();
  return useMutation({
    mutationFn: (passes: { ids: readonly string[]; name: string; way?: JoinWay | undefined }) =>
      sendJson<{ takeIds: string[] }>('POST', '/api/takes/join', passes),
    onError: tellProblem,
    onSuccess: async ({ takeIds }) => {
      await renew('takes', 'intake');
      onJoined?.();
      void navigate(`/split/${takeIds[0]}`);
    },
  });
}
