import { arrayMove } from '@dnd-kit/sortable';
import { useMutation } from '@tanstack/react-query';
import { GripVertical } from 'lucide-react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { JoinWay } from '../../core/capture/blocks.ts';
import { plural } from '../../core/words.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { ChoiceField } from '../../ui/SelectField.tsx';
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
  const [name, setName] = useState('');
  const join = useJoin(() => {
    onClose();
    onDone();
  });
  const [way, setWay] = useState<JoinWay>('over');
  const [order, setOrder] = useState<readonly string[]>([]);
  const ids = takes.map(({ id }) => id);
  const inOrder = [...order.filter((id) => ids.includes(id)), ...ids.filter((id) => !order.includes(id))];
  const nameOf = (id: string) => takes.find((take) => take.id === id)?.name ?? '';
  const suggested = takes[0]?.name ?? '';
  return (
    <Dialog
      open={open}
      onOpenChange={(next) => !next && onClose()}
      title={`Join ${takes.length} takes to one`}
      description="What they are joined to is a take of its own; they are set aside, not deleted."
    >
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          join.mutate({ ids: way === 'over' ? ids : inOrder, name: name.trim() || suggested, way });
        }}
      >
        <label className="grid gap-1">
          <span className="label">Name of the take</span>
          <input
            className="field"
            maxLength={200}
            placeholder={suggested}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <ChoiceField label="How" words={WAY_WORDS} value={way} onChange={setWay} />
        {way === 'after' && (
          <SortableList
            items={inOrder.map((id) => ({ id, name: nameOf(id) }))}
            onOrder={(from, to) => setOrder(arrayMove([...inOrder], from, to))}
          >
            <ol aria-label="In this order">
              {inOrder.map((id, k) => (
                <BlockRow key={id} id={id} name={nameOf(id)} number={k + 1} />
              ))}
            </ol>
          </SortableList>
        )}
        <Button kind="primary" type="submit" disabled={join.isPending}>
          Join
        </Button>
      </form>
    </Dialog>
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
    mutationFn: (passes: { ids: readonly string[]; name: string; way?: JoinWay }) =>
      sendJson<{ takeIds: string[] }>('POST', '/api/takes/join', passes),
    onError: tellProblem,
    onSuccess: async ({ takeIds }) => {
      await renew('takes', 'intake');
      onJoined?.();
      void navigate(`/split/${takeIds[0]}`);
    },
  });
}
