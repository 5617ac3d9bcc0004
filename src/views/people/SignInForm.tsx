import { useMutation } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { Button } from '../../ui/Button.tsx';
import { sendJson } from '../api/client.ts';
import { cameIn } from './coming-in.ts';
import { PasswordField, PersonNameField } from './PersonFields.tsx';

/** Name and password. */
export function SignInForm({ name: known = '' }: { name?: string }) {
  const [name, setName] = useState(known);
  const [password, setPassword] = useState('');
  const enter = useMutation({
    mutationFn: () => sendJson('POST', '/api/session', { name: name.trim(), password }),
    onSuccess: cameIn,
    onError: () => setPassword(''),
  });
  const onSubmit = (event: FormEvent) => {
    event.preventDefault();
    enter.mutate();
  };
  return (
    <form onSubmit={onSubmit} className="flex flex-col gap-3">
      <PersonNameField value={name} onChange={setName} />
      <PasswordField value={password} onChange={setPassword} />
      {enter.error && (
        <p role="alert" className="text-madder">
          {enter.error.message}
        </p>
      )}
      <Button kind="primary" type="submit" disabled={!name.trim() || !password || enter.isPending}>
        {enter.isPending ? 'Coming in' : 'Come in'}
      </Button>
      <p className="text-sm text-muted">
        No account, or the password is forgotten: an owner of this library makes a link for you.
      </p>
    </form>
  );
}
