import type { InputHTMLAttributes, ReactNode } from 'react';
import { useController } from 'react-hook-form';
import { Labeled } from '../fields/Labeled.tsx';
import { NumberField } from '../fields/NumberField.tsx';
import { ChoiceField, SelectField } from '../fields/SelectField.tsx';

/** Fields of a `CheckedForm`, each by its name in the form's schema. */

/** A value of the form, and how it is set, for a field of another kind. */
export function useFormField<Value>(name: string) {
  const { field } = useController({ name });
  return { value: field.value as Value, onChange: field.onChange as (value: Value) => void };
}

type InputProps = Omit<
  InputHTMLAttributes<HTMLInputElement>,
  'id' | 'value' | 'onChange' | 'onBlur' | 'name' | 'className'
>;

/** A line of text, without a label to be seen (`aria-label`) or with one. What is wrong with it stands below. */
export function FormText({
  name,
  label,
  className = '',
  inputClassName = '',
  rows,
  ...props
}: {
  name: string;
  label?: string;
  className?: string;
  inputClassName?: string;
  /** A text of several lines. */
  rows?: number;
} & InputProps) {
  const { field, fieldState } = useController({ name });
  const problem = fieldState.error?.message;
  const Input = (rows === undefined ? 'input' : 'textarea') as 'input';
  const input = (id?: string) => (
    <>
      <Input
        {...props}
        {...(rows === undefined ? {} : { rows })}
        id={id}
        className={`field w-full ${problem ? 'border-madder' : ''} ${inputClassName}`}
        aria-invalid={problem ? true : undefined}
        aria-describedby={problem ? `${id ?? name}-problem` : undefined}
        ref={field.ref}
        name={field.name}
        value={(field.value as string | undefined) ?? ''}
        onChange={field.onChange}
        onBlur={field.onBlur}
      />
      {problem && (
        <p id={`${id ?? name}-problem`} role="alert" className="mt-0.5 text-sm text-madder">
          {/[.?!]$/.test(problem) ? problem : `${problem}.`}
        </p>
      )}
    </>
  );
  if (!label) return <span className={`block min-w-0 ${className}`}>{input()}</span>;
  return (
    <Labeled label={label} className={className}>
      {input}
    </Labeled>
  );
}

/** A number in its range; where `empty` says what an empty field means, it may be null. */
export function FormNumber({
  name,
  empty,
  ...range
}: {
  name: string;
  label: string;
  min: number;
  max: number;
  step?: number;
  empty?: string;
}) {
  const { value, onChange } = useFormField<number | null>(name);
  if (empty !== undefined) return <NumberField {...range} empty={empty} value={value} onChange={onChange} />;
  return <NumberField {...range} value={value} onChange={onChange} />;
}

/** One among several that are told by their words. */
export function FormChoice<Value extends string>({
  name,
  label,
  words,
}: {
  name: string;
  label: string;
  words: Readonly<Record<Value, string>>;
}) {
  return <ChoiceField label={label} words={words} {...useFormField<Value>(name)} />;
}

/** One among several; `children` are its options, `read` makes a value of what was chosen. */
export function FormSelect<Value extends string | number>({
  name,
  label,
  className,
  disabled = false,
  read = (text) => text as Value,
  children,
}: {
  name: string;
  label: string;
  className?: string;
  disabled?: boolean;
  read?: (text: string) => Value;
  children: ReactNode;
}) {
  const { value, onChange } = useFormField<Value>(name);
  return (
    <SelectField
      label={label}
      value={value}
      disabled={disabled}
      onChange={(text) => onChange(read(text))}
      {...(className ? { className } : {})}
    >
      {children}
    </SelectField>
  );
}
