import { useMutation } from '@tanstack/react-query';
import { Link, useNavigate, useParams } from 'react-router';
import { BLANK_CARD } from '../../core/exchange/card.ts';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { sendJson } from '../api/client.ts';
import { renew, tellProblem, useRecipients, type RecipientWire } from '../api/queries.ts';
import { NameForm } from '../shared/editing/NameForm.tsx';
import { HandOffRoom } from '../shared/leaving/HandOffRoom.tsx';
import { CardEditor } from './CardEditor.tsx';
import { cardWords } from './card-words.ts';

/** People who get our music, and what each of them has at their place. */
export default function RecipientsView() {
  const { id } = useParams();
  const { data: recipients, error } = useRecipients();
  if (error) return <EmptyState title="The recipients could not be loaded">{error.message}</EmptyState>;
  if (!recipients) return <Busy what="Looking for recipients" />;
  const chosen = recipients.find((one) => one.id === id) ?? recipients[0];
  return (
    <HandOffRoom>
      <div className="flex min-h-0 flex-1">
        <aside className="flex w-[244px] flex-none flex-col gap-3 overflow-auto border-r border-rule py-3 pr-4">
          <NewRecipient />
          <ul>
            {recipients.map((one) => (
              <li key={one.id}>
                <RecipientLink recipient={one} isChosen={one.id === chosen?.id} />
              </li>
            ))}
          </ul>
        </aside>
        {chosen ? (
          <CardEditor key={chosen.id} recipient={chosen} />
        ) : (
          <EmptyState title="Nobody yet">
            A recipient is somebody who gets our music. On their card stands what they have: the keys of their
            kit, how loud and how early their sounds are played, what they read. It is applied on the way out
            only.
          </EmptyState>
        )}
      </div>
    </HandOffRoom>
  );
}

function RecipientLink({ recipient, isChosen }: { recipient: RecipientWire; isChosen: boolean }) {
  return (
    <Link
      to={`/handoff/recipients/${recipient.id}`}
      aria-current={isChosen ? 'page' : undefined}
      className="quiet-row block min-w-0 border-l-3 border-transparent px-2 py-1.5 hover:bg-card aria-[current=page]:border-l-madder aria-[current=page]:bg-card"
    >
      <span className="block truncate font-bold">{recipient.name}</span>
      <span className="block truncate text-sm text-muted">{cardWords(recipient.card)}</span>
    </Link>
  );
}

function NewRecipient() {
  const navigate = useNavigate();
  const make = useMutation({
    mutationFn: (name: string) =>
      sendJson<{ id: string }>('POST', '/api/recipients', { name, card: BLANK_CARD }),
    onError: tellProblem,
    onSuccess: async ({ id }) => {
      await renew('recipients');
      void navigate(`/handoff/recipients/${id}`);
    },
  });
  return (
    <NameForm
      label="Name of a new recipient"
      placeholder="Somebody new"
      button="Add"
      onName={(name) => make.mutateAsync(name)}
    />
  );
}
