import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { sendJson } from '../../api/client.ts';
import { ComingInForm } from './ComingInForm.tsx';
import { cameIn } from './coming-in.ts';
import { PasswordField, PersonNameField } from '../PersonFields.tsx';

/** Name and password. */
export function SignInForm({ name: known = '' }: { name?: string }) {
  const [name, setName] = useState(known);
  const [password, setPassword] = useState('');
  const enter = useMutation({
    mutationFn: () => sendJson('POST', '/api/session', { name: name.trim(), password }),
    onSuccess: cameIn,
    onError: () => setPassword(''),
  });
  return (
    <>
      <ComingInForm enter={enter} isReady={Boolean(name.trim() && password)}>
        <PersonNameField value={name} onChange={setName} />
        <PasswordField value={password} onChange={setPassword} />
      </ComingInForm>
      <p className="mt-3 text-sm text-muted">
        No account, or the password is forgotten: an owner of this library makes a link for you.
      </p>
    </>
  );
}
