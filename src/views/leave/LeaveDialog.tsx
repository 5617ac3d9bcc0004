import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { OutOptions } from '../../core/exchange/out-options.ts';
import type { SheetKind } from '../../core/notation/sheet.ts';
import type { LeavingPlan } from '../../server/library/handoff/leaving.ts';
import { toggleListening, usePlayer } from '../../sound/player.ts';
import { plural } from '../../core/words.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { Busy } from '../../ui/EmptyState.tsx';
import { Tabs } from '../../ui/Tabs.tsx';
import { saveFile } from '../../ui/save-file.ts';
import { request, requestFile } from '../api/client.ts';
import { renew, tellProblem, useRecipients, type Wire } from '../api/queries.ts';
import { CheckList } from '../shared/leaving/CheckList.tsx';
import {
  chooseRecipient,
  closeLeave,
  useRecipientId,
  type Leaves,
  type Open,
} from '../shared/leaving/leaving.ts';
import { RecipientField } from '../shared/leaving/RecipientField.tsx';
import type { Asked } from './asked.ts';
import { fileListening } from './hear.ts';
import { OutFields } from './OutFields.tsx';
import { SheetTab } from './SheetTab.tsx';
import { OutTable } from './OutTable.tsx';
import { ScopeFields } from './ScopeFields.tsx';

/** The one dialog in which something leaves: a take, a phrase, a sheaf, a basket, a weave. */
export default function LeaveDialog({ open }: { open: Open }) {
  const key = `${open.kind} ${open.id} ${open.parts?.join() ?? ''} ${open.bars?.from ?? ''}`;
  return (
    <Dialog
      open
      isWide
      onOpenChange={(isOpen) => !isOpen && closeLeave()}
      title="How it leaves"
      description="For whom, what of it, and as which files. It is kept in mind for the next time."
    >
      <Leave key={key} leaves={open} onOut={open.onOut} />
    </Dialog>
  );
}

const send = (asked: object): RequestInit => ({
  method: 'POST',
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify(asked),
});

function Leave({ leaves, onOut }: { leaves: Leaves; onOut?: ((out: OutOptions) => void) | undefined }) {
  const isBasket = leaves.kind === 'basket';
  const forWhom = useRecipientId((state) => state.id);
  const [tab, setTab] = useState<'files' | 'sheet'>('files');
  const { data: recipients = [] } = useRecipients();
  const readsOf = (id: string | null): SheetKind => {
    const reads = recipients.find((one) => one.id === id)?.card.reads ?? 'nothing';
    return reads === 'nothing' ? 'lead' : reads;
  };
  const [asked, setAsked] = useState<Asked>({
    kind: leaves.kind,
    id: leaves.id,
    scope: { bars: leaves.bars ?? null, parts: leaves.parts ? [...leaves.parts] : null },
    ...(isBasket ? {} : { recipientId: forWhom }),
  });
  const { data, error, isFetching } = useQuery({
    queryKey: ['leaving', asked],
    queryFn: ({ signal }) => request<Wire<LeavingPlan>>('/api/leaving/plan', { ...send(asked), signal }),
    placeholderData: keepPreviousData,
  });
  if (!data) return error ? <p className="text-madder">{error.message}</p> : <Busy what="Looking at it" />;
  // What was just chosen, before the server has answered.
  const forId = asked.recipientId === undefined ? data.recipientId : asked.recipientId;
  const out = asked.out ?? data.out;
  const change = (next: Partial<Asked>) => setAsked({ ...asked, ...next });
  const chooseOut = (next: OutOptions) => {
    change({ out: next });
    onOut?.(next);
  };
  return (
    <div className="grid grid-cols-[minmax(300px,340px)_minmax(0,1fr)] gap-6">
      <div className="grid content-start gap-4">
        <RecipientField
          value={forId}
          onChange={(recipientId) => {
            chooseRecipient(recipientId);
            // How it last left for them comes with them.
            setAsked({ kind: asked.kind, id: asked.id, scope: asked.scope, recipientId });
          }}
        />
        <ScopeFields plan={data} scope={asked.scope} onChange={(scope) => change({ scope })} />
        <OutFields
          out={out}
          hasProject={data.projectId !== null}
          hasOwnKey={leaves.kind === 'weave'}
          hasRecipient={data.recipientId !== null}
          isRead={tab === 'sheet'}
          onChange={chooseOut}
        />
      </div>
      <div className="grid min-w-0 content-start gap-3">
        <div className="flex gap-4 border-b border-rule" role="group" aria-label="As what it leaves">
          <Tabs value={tab} tabs={TABS} onValue={setTab} />
        </div>
        {tab === 'sheet' ? (
          <SheetTab asked={{ ...asked, out, recipientId: forId }} key={forId ?? ''} first={readsOf(forId)} />
        ) : (
          <>
            <OutTable
              plan={data}
              onProgram={(part, program) =>
                change({ programs: { ...data.programs, ...asked.programs, [part]: program } })
              }
            />
            {error && <p className="text-sm text-madder">{error.message}</p>}
            {data.stays.length > 0 && <Stays what={data.stays} />}
            <CheckList checks={data.checks} />
            <Ways asked={asked} plan={data} isBusy={isFetching} />
          </>
        )}
      </div>
    </div>
  );
}

/** What does not leave, and why. */
function Stays({ what }: { what: readonly string[] }) {
  return (
    <details className="text-sm">
      <summary className="min-h-6 cursor-pointer text-muted">
        {plural(what.length, 'thing')} {what.length === 1 ? 'stays' : 'stay'} here
      </summary>
      <ul className="pl-4 text-muted">
        {what.map((text) => (
          <li key={text}>{text}</li>
        ))}
      </ul>
    </details>
  );
}

const TABS = [
  ['files', 'Files, for programs'],
  ['sheet', 'A sheet, for those who read'],
] as const;

/** What can be done with it: hear it, save it. */
function Ways({ asked, plan, isBusy }: { asked: Asked; plan: Wire<LeavingPlan>; isBusy: boolean }) {
  const [isSaving, setIsSaving] = useState(false);
  const id = `leaving ${asked.id}`;
  const isPlaying = usePlayer((player) => player.state === 'playing' && player.listening?.id === id);
  const { out, recipientId, programs } = plan;
  const settled = { ...asked, out, recipientId, programs };
  const stops = plan.checks.some(({ state }) => state === 'stop');
  const hear = async () => {
    const heard = { ...settled, out: { ...out, as: 'one', format: 1, countIn: 0, markers: false } };
    const { bytes } = await requestFile('/api/leaving/heard', send(heard));
    await toggleListening(fileListening(bytes, id, plan.title));
  };
  const save = async () => {
    setIsSaving(true);
    try {
      const { bytes, name, type } = await requestFile('/api/leaving/file', send(settled));
      saveFile(bytes, name, type);
      void renew('recipients');
    } catch (error) {
      tellProblem(error);
    } finally {
      setIsSaving(false);
    }
  };
  const count = plan.files.length;
  return (
    <div className="mt-1 flex items-center gap-2 border-t border-rule pt-3">
      <Button
        kind="primary"
        disabled={count === 0 || stops || isSaving || isBusy}
        onClick={() => void save()}
      >
        {count === 1 ? 'Save the file' : `Save ${plural(count, 'file')} as a ZIP`}
      </Button>
      <Button disabled={count === 0} onClick={() => void hear().catch(tellProblem)}>
        {isPlaying ? 'Stop' : recipientId ? 'Hear it as they have it' : 'Hear it as it leaves'}
      </Button>
      {isBusy && <span className="text-sm text-muted">Looking at it</span>}
    </div>
  );
}
