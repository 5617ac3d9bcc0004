import { useState, type FormEvent } from 'react';
import { Button } from '../../../ui/Button.tsx';

/** Something new by its name; the field is empty again once it is made. */
export function NameForm({
  label,
  placeholder,
  button,
  isMain = false,
  isBusy,
  onName,
}: {
  label: string;
  placeholder: string;
  /** What the button says. */
  button: string;
  /** It is what one comes here for. */
  isMain?: boolean;
  isBusy: boolean;
  onName: (name: string, made: () => void) => void;
}) {
  const [name, setName] = useState('');
  const onSubmit = (event: FormEvent) => {
    event.preventDefault();
    onName(name.trim(), () => setName(''));
  };
  return (
    <form onSubmit={onSubmit} className="flex gap-2">
      <input
        className="field min-w-0 flex-1"
        aria-label={label}
        placeholder={placeholder}
        maxLength={200}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <Button kind={isMain ? 'primary' : 'plain'} type="submit" disabled={!name.trim() || isBusy}>
        {button}
      </Button>
    </form>
  );
}
