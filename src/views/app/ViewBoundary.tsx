import type { ReactNode } from 'react';
import { ErrorBoundary, type FallbackProps } from 'react-error-boundary';
import { useLocation } from 'react-router';
import { MoveError } from '../../core/split/moves.ts';
import { Button } from '../../ui/Button.tsx';
import { ViewLink } from '../../ui/ButtonLink.tsx';
import { EmptyState } from '../../ui/EmptyState.tsx';
import { queryClient } from '../api/queries.ts';

/**
 * What goes wrong in a view stays in it: the frame, what is recorded and what is heard go on, and there is a way back. Another
 * address is another view.
 */
export function ViewBoundary({ children }: { children: ReactNode }) {
  const { pathname } = useLocation();
  return (
    <ErrorBoundary
      FallbackComponent={Stopped}
      resetKeys={[pathname]}
      onReset={() => void queryClient.resetQueries()}
      onError={(error) => console.error(error)}
    >
      {children}
    </ErrorBoundary>
  );
}

function Stopped({ error, resetErrorBoundary }: FallbackProps) {
  return (
    <div role="alert" className="flex-1 overflow-auto">
      <EmptyState title="This view has stopped">
        <p>{whatHappened(error)}</p>
        <p>Nothing that was kept is lost; what is being recorded or listened to goes on.</p>
        <div className="mt-3 flex justify-center gap-2">
          <Button kind="primary" autoFocus onClick={resetErrorBoundary}>
            Open it again
          </Button>
          <ViewLink to="/library">To the library</ViewLink>
        </div>
      </EmptyState>
    </div>
  );
}

function whatHappened(error: unknown): string {
  if (error instanceof MoveError)
    return `A move of this take cannot be done any more: ${error.message} The take is stored as it was.`;
  if (error instanceof TypeError && /import|module/i.test(error.message))
    return 'A piece of the application could not be fetched. Is Hollow Basket still running? If it was renewed, load the page again.';
  return `Something in it went wrong${error instanceof Error ? `: ${error.message}` : ''}.`;
}
