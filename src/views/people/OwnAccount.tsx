import { useMutation, useQuery } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { toast } from 'sonner';
import { Button } from '../../ui/Button.tsx';
import { ago } from '../../ui/time.ts';
import { request, sendJson } from '../api/client.ts';
import { renew, tellProblem } from '../api/queries.ts';
import { PasswordField } from './PersonFields.tsx';
import { browserWords } from './door/browser-words.ts';

interface SessionWire {
  id: string;
  device: string;
  seenAt: string;
  isThis: boolean;
}

/** One's own password, and where one is signed in. */
export function OwnAccount() {
  return (
    <section aria-label="Your account">
      <h2 className="mb-2 text-lg">Your account</h2>
      <Sessions />
      <ChangePassword />
    </section>
  );
}

function Sessions() {
  const { data: sessions = [] } = useQuery({
    queryKey: ['sessions'],
    queryFn: async () => (await request<{ sessions: SessionWire[] }>('/api/me/sessions')).sessions,
  });
  const end = useMutation({
    mutationFn: () => sendJson('DELETE', '/api/me/sessions'),
    onError: tellProblem,
    onSuccess: () => renew('sessions'),
  });
  return (
    <>
      <ul className="mb-2 text-sm">
        {sessions.map(({ id, device, seenAt, isThis }) => (
          <li key={id} className="quiet-row flex gap-2 py-1">
            <span className="min-w-0 flex-1 truncate" title={device}>
              {browserWords(device)}
            </span>
            <span className="text-muted">{isThis ? 'this one' : ago(seenAt)}</span>
          </li>
        ))}
      </ul>
      {sessions.length > 1 && (
        <Button small onClick={() => end.mutate()}>
          Sign out everywhere else
        </Button>
      )}
    </>
  );
}

function ChangePassword() {
  const [old, setOld] = useState('');
  const [password, setPassword] = useState('');
  const change = useMutation({
    mutationFn: () => sendJson('PATCH', '/api/me', { old, password }),
    onSuccess: () => {
      setOld('');
      setPassword('');
      toast('The password is changed, and you are signed out everywhere else.');
      return renew('sessions');
    },
  });
  const onSubmit = (event: FormEvent) => {
    event.preventDefault();
    change.mutate();
  };
  return (
    <details className="mt-3">
      <summary className="cursor-pointer text-muted hover:text-ink">Another password</summary>
      <form onSubmit={onSubmit} className="mt-2 flex flex-col gap-2">
        <PasswordField label="The one you have" value={old} onChange={setOld} />
        <PasswordField isNew label="A new one" value={password} onChange={setPassword} />
        {change.error && (
          <p role="alert" className="text-madder">
            {change.error.message}
          </p>
        )}
        <Button type="submit" disabled={!old || !password || change.isPending}>
          Change it
        </Button>
      </form>
    </details>
  );
}
