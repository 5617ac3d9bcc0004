import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { PERSON_ROLES, type PersonRole } from '../../core/people/roles.ts';
import { plural } from '../../core/words.ts';
import { Button } from '../../ui/Button.tsx';
import { ago } from '../../ui/time.ts';
import { sendJson } from '../api/client.ts';
import { renew, tellProblem } from '../api/queries.ts';
import { BasketTicks } from './BasketTicks.tsx';
import { LinkMade } from './LinkMade.tsx';
import type { PersonWire } from './queries.ts';

/** What may be changed of somebody. */
type Change = { role: PersonRole } | { closed: boolean } | { baskets: string[] };

/** Everybody who comes in, with what they may do; owners change it. */
export function PeopleTable({ people, me, isOwner }: { people: PersonWire[]; me: string; isOwner: boolean }) {
  return (
    <table className="w-full text-left">
      <thead>
        <tr className="border-b border-rule text-xs text-muted">
          <th className="py-1.5 font-normal">Name</th>
          <th className="w-36 font-normal">May do</th>
          <th className="w-40 font-normal">Was here</th>
          {isOwner && <th className="w-56 font-normal" aria-label="What can be done" />}
        </tr>
      </thead>
      <tbody>
        {people.map((person) => (
          <PersonLine key={person.id} person={person} isMe={person.id === me} isOwner={isOwner} />
        ))}
      </tbody>
    </table>
  );
}

function PersonLine({ person, isMe, isOwner }: { person: PersonWire; isMe: boolean; isOwner: boolean }) {
  const { id, name, role, closedAt, seenAt, baskets } = person;
  const [isOpen, setOpen] = useState(false);
  const change = useMutation({
    mutationFn: (to: Change) => sendJson('PATCH', `/api/people/${id}`, to),
    onError: tellProblem,
    onSettled: () => renew('people'),
  });
  const renewLink = useMutation({
    mutationFn: () =>
      sendJson<{ link: string }>('POST', '/api/invitations', { note: name, role, personId: id }),
    onError: tellProblem,
    onSettled: () => renew('invitations'),
  });
  return (
    <>
      <tr className={`quiet-row ${closedAt ? 'text-muted' : ''}`}>
        <td className="py-2">
          <span className="font-bold">{name}</span>
          {isMe && <span className="text-muted"> (you)</span>}
          {role === 'guest' && !closedAt && (
            <Button
              kind="quiet"
              small
              className="ml-2"
              aria-expanded={isOpen}
              disabled={!isOwner}
              onClick={() => setOpen(!isOpen)}
            >
              {plural(baskets.length, 'basket')}
            </Button>
          )}
        </td>
        <td>
          {isOwner && !closedAt ? (
            <select
              className="field"
              aria-label={`What ${name} may do`}
              value={role}
              onChange={({ target }) => change.mutate({ role: target.value as PersonRole })}
            >
              {PERSON_ROLES.map((one) => (
                <option key={one}>{one}</option>
              ))}
            </select>
          ) : (
            <span>{closedAt ? 'may not come in' : role}</span>
          )}
        </td>
        <td className="text-sm text-muted">{seenAt ? ago(seenAt) : 'not signed in'}</td>
        {isOwner && (
          <td className="text-right whitespace-nowrap">
            {!closedAt && (
              <Button kind="quiet" small disabled={renewLink.isPending} onClick={() => renewLink.mutate()}>
                New password
              </Button>
            )}
            {!isMe && (
              <Button kind="quiet" small onClick={() => change.mutate({ closed: !closedAt })}>
                {closedAt ? 'Let in again' : 'Shut out'}
              </Button>
            )}
          </td>
        )}
      </tr>
      {isOpen && (
        <tr>
          <td colSpan={4} className="bg-card px-3 py-2">
            <BasketTicks
              label={`Baskets that ${name} sees`}
              chosen={baskets}
              onChange={(to) => change.mutate({ baskets: to })}
            />
          </td>
        </tr>
      )}
      {renewLink.data && (
        <tr>
          <td colSpan={4} className="py-2">
            <LinkMade link={renewLink.data.link} forWhom={name} />
          </td>
        </tr>
      )}
    </>
  );
}
