import type { ReactNode } from 'react';
import { useFormState, type FieldValues, type UseFormReturn } from 'react-hook-form';
import { CheckedForm, FormProblem, SubmitButton } from '../../../ui/form/checked-form.tsx';

/** What has to be said to come in, what is wrong with it, and the button. */
export function ComingInForm<Said extends FieldValues>({
  form,
  onSubmit,
  children,
}: {
  form: UseFormReturn<Said>;
  onSubmit: (said: Said) => Promise<void>;
  children: ReactNode;
}) {
  const { isSubmitting } = useFormState(form);
  return (
    <CheckedForm form={form} onSubmit={onSubmit} className="flex flex-col gap-3">
      {children}
      <FormProblem />
      <SubmitButton>{isSubmitting ? 'Coming in' : 'Come in'}</SubmitButton>
    </CheckedForm>
  );
}
