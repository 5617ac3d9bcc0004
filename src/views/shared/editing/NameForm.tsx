import { named, namedOrNot } from '../../../requests/fields.ts';
import { CheckedForm, SubmitButton, useCheckedForm } from '../../../ui/form/checked-form.tsx';
import { FormText } from '../../../ui/form/form-fields.tsx';

/** Something new by its name; the field is empty again once it is made. */
export function NameForm({
  label,
  placeholder,
  button,
  isMain = false,
  isShut = false,
  small = false,
  className = '',
  otherwise,
  onName,
}: {
  label: string;
  placeholder: string;
  /** What the button says. */
  button: string;
  /** It is what one comes here for. */
  isMain?: boolean;
  /** It cannot be made now. */
  isShut?: boolean;
  small?: boolean;
  className?: string;
  /** Its name where none is typed; where none is given, one has to be typed. */
  otherwise?: string;
  /** Makes it. What it throws leaves the name where it stands. */
  onName: (name: string) => Promise<unknown>;
}) {
  const form = useCheckedForm(otherwise === undefined ? named : namedOrNot, { name: '' });
  return (
    <CheckedForm
      form={form}
      className={`flex gap-2 ${className}`}
      onSubmit={async ({ name }) => {
        await onName(name.trim() || (otherwise ?? ''));
        form.reset();
      }}
    >
      <FormText
        name="name"
        aria-label={label}
        placeholder={placeholder}
        maxLength={200}
        className="flex-1"
        inputClassName={small ? 'h-7 text-sm' : ''}
      />
      <SubmitButton kind={isMain ? 'primary' : 'plain'} small={small} disabled={isShut}>
        {button}
      </SubmitButton>
    </CheckedForm>
  );
}
