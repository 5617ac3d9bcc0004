import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import type { InferType } from 'yup';
import type { PersonRole } from '../../core/people/roles.ts';
import { newInvitationSchema } from '../../requests/people.ts';
import { Button } from '../../ui/Button.tsx';
import { CheckedForm, FormProblem, SubmitButton, useCheckedForm } from '../../ui/form/checked-form.tsx';
import { FormChoice, FormText, useFormField } from '../../ui/form/form-fields.tsx';
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
  const form = useCheckedForm(newInvitationSchema, { note: '', role: 'member', baskets: [] });
  const [made, setMade] = useState<{ link: string; note: string } | null>(null);
  const isGuest = form.watch('role') === 'guest';
  const make = async ({ note, role, baskets }: InferType<typeof newInvitationSchema>) => {
    const said = { note, role, ...(role === 'guest' ? { baskets } : {}) };
    const { link } = await sendJson<{ link: string }>('POST', '/api/invitations', said);
    setMade({ link, note });
    await renew('invitations');
  };
  return (
    <section aria-label="Let somebody in">
      <h2 className="mb-2 text-lg">Let somebody in</h2>
      <CheckedForm form={form} onSubmit={make} className="flex flex-col gap-2">
        <FormText name="note" label="Who is it for" maxLength={80} />
        <FormChoice name="role" label="As" words={ROLES} />
        {isGuest && <BasketsSeen />}
        <FormProblem />
        <SubmitButton>Make a link</SubmitButton>
      </CheckedForm>
      {made && (
        <div className="mt-3">
          <LinkMade link={made.link} forWhom={made.note} />
        </div>
      )}
      <OpenLinks />
    </section>
  );
}

function BasketsSeen() {
  const { value, onChange } = useFormField<string[]>('baskets');
  return <BasketTicks label="Baskets they see" chosen={value} onChange={onChange} />;
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
