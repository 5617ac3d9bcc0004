import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { plural } from '../../core/words.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
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
        disabled={many.progress !== null || away}
        onClick={() => many.make(chosen)}
        title="All bars of every part, as drafts by the house recipe of their role"
      >
        {many.progress ? `${many.progress.done} of ${many.progress.of} made` : 'Make phrases'}
      </Button>
      {many.progress && (
        <Button small onClick={many.progress.stop}>
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
  const suggested = takes[0]?.name ?? '';
  return (
    <Dialog
      open={open}
      onOpenChange={(next) => !next && onClose()}
      title={`Join ${takes.length} takes to one`}
      description="For passes of one performance: a file an instrument, all from bar one. They are set aside, not deleted."
    >
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          join.mutate({ ids: takes.map(({ id }) => id), name: name.trim() || suggested });
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
        <Button kind="primary" type="submit" disabled={join.isPending}>
          Join
        </Button>
      </form>
    </Dialog>
  );
}

/** Joins passes and opens the take they make. */
export function useJoin(onJoined?: () => void) {
  const navigate = useNavigate();
  return useMutation({
    mutationFn: (passes: { ids: readonly string[]; name: string }) =>
      sendJson<{ takeIds: string[] }>('POST', '/api/takes/join', passes),
    onError: tellProblem,
    onSuccess: async ({ takeIds }) => {
      await renew('takes', 'intake');
      onJoined?.();
      void navigate(`/split/${takeIds[0]}`);
    },
  });
}
