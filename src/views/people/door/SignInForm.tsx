import { signInSchema } from '../../../requests/people.ts';
import { useCheckedForm } from '../../../ui/form/checked-form.tsx';
import { sendJson } from '../../api/client.ts';
import { ComingInForm } from './ComingInForm.tsx';
import { cameIn } from './coming-in.ts';
import { PasswordField, PersonNameField } from '../PersonFields.tsx';

/** Name and password. */
export default function SignInForm({ name = '' }: { name?: string }) {
  const form = useCheckedForm(signInSchema, { name, password: '' });
  return (
    <>
      <ComingInForm
        form={form}
        onSubmit={async (said) => {
          await sendJson('POST', '/api/session', said).catch((error: unknown) => {
            form.resetField('password');
            throw error;
          });
          await cameIn();
        }}
      >
        <PersonNameField />
        <PasswordField />
      </ComingInForm>
      <p className="mt-3 text-sm text-muted">
        No account, or the password is forgotten: an owner of this library makes a link for you.
      </p>
    </>
  );
}
