import { useMutation, useQuery } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { useNavigate } from 'react-router';
import type { PersonRole } from '../../core/people/roles.ts';
import { Button } from '../../ui/Button.tsx';
import { sendJson } from '../api/client.ts';
import { cameIn } from './coming-in.ts';
import { Door } from './Door.tsx';
import { PasswordField, PersonNameField } from './PersonFields.tsx';
import { MAY } from './role-words.ts';

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
  const [name, setName] = useState(invitation.name ?? invitation.note);
  const [password, setPassword] = useState('');
  const join = useMutation({
    mutationFn: () => sendJson('POST', '/api/join', { token, name: name.trim(), password }),
    onSuccess: async () => {
      await cameIn();
      await navigate('/', { replace: true });
    },
  });
  const onSubmit = (event: FormEvent) => {
    event.preventDefault();
    join.mutate();
  };
  return (
    <form onSubmit={onSubmit} className="flex flex-col gap-3">
      {!invitation.name && (
        <>
          <p className="text-muted">You come in as {MAY[invitation.role]}</p>
          <PersonNameField value={name} onChange={setName} />
        </>
      )}
      <PasswordField isNew label="Choose a password" value={password} onChange={setPassword} />
      <p className="text-sm text-muted">
        At least 12 characters; several words that do not belong together are easy to keep in mind and hard to
        guess.
      </p>
      {join.error && (
        <p role="alert" className="text-madder">
          {join.error.message}
        </p>
      )}
      <Button kind="primary" type="submit" disabled={!name.trim() || !password || join.isPending}>
        {join.isPending ? 'Coming in' : 'Come in'}
      </Button>
    </form>
  );
}
