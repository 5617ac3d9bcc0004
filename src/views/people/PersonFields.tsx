import { Eye, EyeOff } from 'lucide-react';
import { useState } from 'react';
import { useController } from 'react-hook-form';
import { Button } from '../../ui/Button.tsx';
import { FormText } from '../../ui/form/form-fields.tsx';
import { Labeled } from '../../ui/fields/Labeled.tsx';

/** The name somebody signs in with. */
export function PersonNameField() {
  // The one thing to do here.
  return <FormText name="name" label="Name" autoComplete="username" maxLength={80} required autoFocus />;
}

/** A password, which can be looked at while it is typed; pasting and password managers are welcome. */
export function PasswordField({
  name = 'password',
  label = 'Password',
  isNew = false,
}: {
  name?: string;
  label?: string;
  /** It is being chosen. */
  isNew?: boolean;
}) {
  const [isShown, show] = useState(false);
  const { field } = useController({ name });
  const Icon = isShown ? EyeOff : Eye;
  return (
    <Labeled label={label}>
      {(id) => (
        <span className="flex gap-1">
          <input
            {...field}
            id={id}
            className="field min-w-0 flex-1"
            type={isShown ? 'text' : 'password'}
            autoComplete={isNew ? 'new-password' : 'current-password'}
            required
          />
          <Button
            kind="quiet"
            className="px-2"
            aria-label={isShown ? 'Hide what is typed' : 'Show what is typed'}
            aria-pressed={isShown}
            onClick={() => show(!isShown)}
          >
            <Icon size={15} aria-hidden="true" />
          </Button>
        </span>
      )}
    </Labeled>
  );
}
