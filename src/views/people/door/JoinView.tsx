import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { PersonRole } from '../../../core/people/roles.ts';
import { joinSchema } from '../../../requests/people.ts';
import { useCheckedForm } from '../../../ui/form/checked-form.tsx';
import { sendJson } from '../../api/client.ts';
import { ComingInForm } from './ComingInForm.tsx';
import { cameIn } from './coming-in.ts';
import { Door } from './Door.tsx';
import { PasswordField, PersonNameField } from '../PersonFields.tsx';
import { MAY } from '../role-words.ts';

interface Invitation {
  role: PersonRole;
  note: string;
  /** Who chooses a new password by it; null for somebody new. */
  name: string | null;
}

/** Coming in by a link. What stands behind the # is the key; the server is asked in the body. */
export default function JoinView() {
  const [token] = useState(() => location.hash.slice(1));
  const { data: invitation, error } = useQuery({
    queryKey: ['join', token],
    staleTime: Infinity,
    queryFn: () => sendJson<Invitation>('PUT', '/api/join', { token }),
  });
  if (error) return <Door title="This link does not open">{error.message}</Door>;
  if (!invitation) return <Door title="One moment">The link is looked at.</Door>;
  return (
    <Door title={invitation.name ? `A new password for ${invitation.name}` : 'Come in'}>
      <JoinForm token={token} invitation={invitation} />
    </Door>
  );
}

function JoinForm({ token, invitation }: { token: string; invitation: Invitation }) {
  const navigate = useNavigate();
  const form = useCheckedForm(joinSchema, { token, name: invitation.name ?? invitation.note, password: '' });
  return (
    <ComingInForm
      form={form}
      onSubmit={async (said) => {
        await sendJson('POST', '/api/join', said);
        await cameIn();
        await navigate('/', { replace: true });
      }}
    >
      {!invitation.name && (
        <>
          <p className="text-muted">You come in as {MAY[invitation.role]}</p>
          <PersonNameField />
        </>
      )}
      <PasswordField isNew label="Choose a password" />
      <p className="text-sm text-muted">
        At least 12 characters; several words that do not belong together are easy to keep in mind and hard to
        guess.
      </p>
    </ComingInForm>
  );
}
