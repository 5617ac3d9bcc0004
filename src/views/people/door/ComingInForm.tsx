import type { UseMutationResult } from '@tanstack/react-query';
import type { FormEvent, ReactNode } from 'react';
import { Button } from '../../../ui/Button.tsx';

/** What has to be said to come in, what is wrong with it, and the button. */
export function ComingInForm({
  enter,
  isReady,
  children,
}: {
  enter: UseMutationResult<unknown, Error, void>;
  /** Everything is said. */
  isReady: boolean;
  children: ReactNode;
}) {
  const onSubmit = (event: FormEvent) => {
    event.preventDefault();
    enter.mutate();
  };
  return (
    <form onSubmit={onSubmit} className="flex flex-col gap-3">
      {children}
      {enter.error && (
        <p role="alert" className="text-madder">
          {enter.error.message}
        </p>
      )}
      <Button kind="primary" type="submit" disabled={!isReady || enter.isPending}>
        {enter.isPending ? 'Coming in' : 'Come in'}
      </Button>
    </form>
  );
}
