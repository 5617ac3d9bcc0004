import { useMutation, useQuery } from '@tanstack/react-query';
import { toast } from 'sonner';
import { passwordChangeSchema } from '../../requests/people.ts';
import { Button } from '../../ui/Button.tsx';
import { CheckedForm, FormProblem, SubmitButton, useCheckedForm } from '../../ui/form/checked-form.tsx';
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
  const form = useCheckedForm(passwordChangeSchema, { old: '', password: '' });
  const change = async (said: { old: string; password: string }) => {
    await sendJson('PATCH', '/api/me', said);
    form.reset();
    toast('The password is changed, and you are signed out everywhere else.');
    await renew('sessions');
  };
  return (
    <details className="mt-3">
      <summary className="cursor-pointer text-muted hover:text-ink">Another password</summary>
      <CheckedForm form={form} onSubmit={change} className="mt-2 flex flex-col gap-2">
        <PasswordField name="old" label="The one you have" />
        <PasswordField isNew label="A new one" />
        <FormProblem />
        <SubmitButton kind="plain">Change it</SubmitButton>
      </CheckedForm>
    </details>
  );
}
