import { yupResolver } from '@hookform/resolvers/yup';
import type { ReactNode } from 'react';
import {
  FormProvider,
  useForm,
  useFormContext,
  useFormState,
  type DefaultValues,
  type FieldValues,
  type Resolver,
  type UseFormReturn,
} from 'react-hook-form';
import type { ObjectSchema } from 'yup';
import { Button } from '../Button.tsx';

/** What is wrong with all of it, and belongs to no field: mostly what the server answered. */
const WHOLE = 'root.server';

/**
 * A form that is checked by the schema the server will check it by. What is wrong with a field is told while it is typed, as
 * numbers out of their range are.
 */
export function useCheckedForm<Values extends FieldValues>(
  schema: ObjectSchema<Values>,
  defaultValues: DefaultValues<Values>,
): UseFormReturn<Values> {
  return useForm<Values>({
    // The resolver reads the values' type from the schema's fields, where optional ones look otherwise.
    resolver: yupResolver(schema as never) as unknown as Resolver<Values>,
    defaultValues,
    mode: 'onChange',
  });
}

/** The form itself. What `onSubmit` throws stands as a sentence where `FormProblem` is, and everything typed stays. */
export function CheckedForm<Values extends FieldValues>({
  form,
  className = 'grid gap-3',
  onSubmit,
  children,
}: {
  form: UseFormReturn<Values>;
  className?: string;
  onSubmit: (values: Values) => unknown;
  children: ReactNode;
}) {
  const submit = form.handleSubmit(async (values) => {
    try {
      await onSubmit(values);
    } catch (error) {
      form.setError(WHOLE, { message: error instanceof Error ? error.message : String(error) });
    }
  });
  return (
    <FormProvider {...form}>
      <form noValidate className={className} onSubmit={(event) => void submit(event)}>
        {children}
      </form>
    </FormProvider>
  );
}

/** What is wrong with all of it. */
export function FormProblem({ className = '' }: { className?: string }) {
  const { errors } = useFormState();
  const problem = (errors.root?.server as { message?: string } | undefined)?.message;
  if (!problem) return null;
  return (
    <p role="alert" className={`text-madder ${className}`}>
      {problem}
    </p>
  );
}

/** The button that sends the form: shut while something is missing or wrong, and while it is under way. */
export function SubmitButton({
  small = false,
  kind = 'primary',
  className,
  disabled = false,
  children,
}: {
  small?: boolean;
  kind?: 'primary' | 'plain';
  className?: string;
  /** Shut for a reason that is not the form's. */
  disabled?: boolean;
  children: ReactNode;
}) {
  const { control } = useFormContext();
  const { isValid, isSubmitting } = useFormState({ control });
  return (
    <Button
      small={small}
      kind={kind}
      type="submit"
      disabled={disabled || !isValid || isSubmitting}
      {...(className ? { className } : {})}
    >
      {children}
    </Button>
  );
}
