import { Eye, EyeOff } from 'lucide-react';
import { useState } from 'react';
import { Button } from '../../ui/Button.tsx';
import { Labeled } from '../../ui/Labeled.tsx';

/** The name somebody signs in with. */
export function PersonNameField({ value, onChange }: { value: string; onChange: (name: string) => void }) {
  return (
    <Labeled label="Name">
      {(id) => (
        <input
          id={id}
          className="field w-full"
          autoComplete="username"
          maxLength={80}
          required
          // The one thing to do here.
          autoFocus
          value={value}
          onChange={({ target }) => onChange(target.value)}
        />
      )}
    </Labeled>
  );
}

/** A password, which can be looked at while it is typed; pasting and password managers are welcome. */
export function PasswordField({
  label = 'Password',
  isNew = false,
  value,
  onChange,
}: {
  label?: string;
  /** It is being chosen. */
  isNew?: boolean;
  value: string;
  onChange: (password: string) => void;
}) {
  const [isShown, show] = useState(false);
  const Icon = isShown ? EyeOff : Eye;
  return (
    <Labeled label={label}>
      {(id) => (
        <span className="flex gap-1">
          <input
            id={id}
            className="field min-w-0 flex-1"
            type={isShown ? 'text' : 'password'}
            autoComplete={isNew ? 'new-password' : 'current-password'}
            required
            value={value}
            onChange={({ target }) => onChange(target.value)}
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
