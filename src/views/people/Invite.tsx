import { useMutation } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import type { PersonRole } from '../../core/people/roles.ts';
import { Button } from '../../ui/Button.tsx';
import { Labeled } from '../../ui/Labeled.tsx';
import { ChoiceField } from '../../ui/SelectField.tsx';
import { day } from '../../ui/time.ts';
import { sendJson } from '../api/client.ts';
import { renew, tellProblem } from '../api/queries.ts';
import { BasketTicks } from './BasketTicks.tsx';
import { LinkMade } from './LinkMade.tsx';
import { useInvitations } from './queries.ts';

const ROLES: Readonly<Record<PersonRole, string>> = {
  member: 'member: works in the library',
  guest: 'guest: sees chosen baskets',
  owner: 'owner: also says who comes in',
};

/** Lets somebody in by a link, and shows the links that are open. */
export function Invite() {
  const [note, setNote] = useState('');
  const [role, setRole] = useState<PersonRole>('member');
  const [baskets, setBaskets] = useState<string[]>([]);
  const make = useMutation({
    mutationFn: () =>
      sendJson<{ link: string }>('POST', '/api/invitations', {
        ...{ note: note.trim(), role },
        ...(role === 'guest' ? { baskets } : {}),
      }),
    onError: tellProblem,
    onSuccess: () => renew('invitations'),
  });
  const onSubmit = (event: FormEvent) => {
    event.preventDefault();
    make.mutate();
  };
  return (
    <section aria-label="Let somebody in">
      <h2 className="mb-2 text-lg">Let somebody in</h2>
      <form onSubmit={onSubmit} className="flex flex-col gap-2">
        <Labeled label="Who is it for">
          {(id) => (
            <input
              id={id}
              className="field w-full"
              maxLength={80}
              value={note}
              onChange={({ target }) => setNote(target.value)}
            />
          )}
        </Labeled>
        <ChoiceField label="As" words={ROLES} value={role} onChange={setRole} />
        {role === 'guest' && <BasketTicks label="Baskets they see" chosen={baskets} onChange={setBaskets} />}
        <Button
          kind="primary"
          type="submit"
          disabled={!note.trim() || make.isPending || (role === 'guest' && baskets.length === 0)}
        >
          Make a link
        </Button>
      </form>
      {make.data && (
        <div className="mt-3">
          <LinkMade link={make.data.link} forWhom={note} />
        </div>
      )}
      <OpenLinks />
    </section>
  );
}

function OpenLinks() {
  const { data: open = [] } = useInvitations();
  const withdraw = useMutation({
    mutationFn: (id: string) => sendJson('DELETE', `/api/invitations/${id}`),
    onError: tellProblem,
    onSettled: () => renew('invitations'),
  });
  if (open.length === 0) return null;
  return (
    <ul className="mt-3" aria-label="Open links">
      {open.map(({ id, note, role, expiresAt }) => (
        <li key={id} className="quiet-row flex items-center gap-2 py-1 text-sm">
          <span className="min-w-0 flex-1 truncate">
            {note || 'a link'}, {role}
          </span>
          <span className="text-muted">until {day(expiresAt)}</span>
          <Button
            kind="quiet"
            small
            aria-label={`Take back: the link for ${note || 'somebody'}`}
            onClick={() => withdraw.mutate(id)}
          >
            Take back
          </Button>
        </li>
      ))}
    </ul>
  );
}
