import { Dialog as Radix } from 'radix-ui';
import { lazy, Suspense, useEffect, useState, type ReactNode } from 'react';
import { useLocation } from 'react-router';
import { onSignedOut } from '../api/client.ts';
import { queryClient, useMe, type Me } from '../api/queries.ts';
import { Door } from '../people/door/Door.tsx';
import { hearOthers, useSaysWhere } from './news/news.ts';

const SignInForm = lazy(() => import('../people/door/SignInForm.tsx'));
const JoinView = lazy(() => import('../people/door/JoinView.tsx'));
const GuestView = lazy(() => import('../people/GuestView.tsx'));

/** The library for those who may come in: where people sign in, what is to be done first stands before it. */
export function Admitted({ children }: { children: ReactNode }) {
  const { pathname } = useLocation();
  const { data: me, error } = useMe();
  // Who was in stays: an hour's work is not closed because a session ends.
  const [last, setLast] = useState<Me['person']>(null);
  if (me?.person && me.person !== last) setLast(me.person);
  useEffect(
    () => onSignedOut(() => void queryClient.invalidateQueries({ queryKey: ['me'], refetchType: 'active' })),
    [],
  );
  if (pathname === '/join')
    return (
      <Suspense fallback={null}>
        <JoinView />
      </Suspense>
    );
  if (!me) return error ? <Door title="The library does not answer">{error.message}</Door> : null;
  if (!me.accounts) return <Inside>{children}</Inside>;
  if (!me.person && !last)
    return me.isNobodyThere ? (
      <Door title="Nobody is here yet">
        The first owner comes in by the link that stands where the server was started.
      </Door>
    ) : (
      <Door title="Sign in">
        {me.isOpen && (
          <p className="mb-3 text-madder">
            This connection is not encrypted: whoever listens on the network reads your password.
          </p>
        )}
        <Suspense fallback={null}>
          <SignInForm />
        </Suspense>
      </Door>
    );
  const isGuest = (me.person ?? last)?.role === 'guest';
  return (
    <Inside key={last?.id}>
      {isGuest ? (
        <Suspense fallback={null}>
          <GuestView />
        </Suspense>
      ) : (
        children
      )}
      {!me.person && <SignInAgain name={last!.name} />}
    </Inside>
  );
}

/** Who is in hears what others do, and is seen where they are. */
function Inside({ children }: { children: ReactNode }) {
  useEffect(() => hearOthers(), []);
  useSaysWhere();
  return children;
}

/** Over the view, which stays as it is. */
function SignInAgain({ name }: { name: string }) {
  return (
    <Radix.Root open>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-black/40" />
        <Radix.Content className="fixed top-1/2 left-1/2 z-50 w-[min(420px,94vw)] -translate-x-1/2 -translate-y-1/2 rounded border border-rule bg-card p-5 shadow-xl">
          <Radix.Title className="mb-1 text-lg font-semibold">Sign in again</Radix.Title>
          <Radix.Description className="mb-3 text-muted">
            You were signed out. What you were at is still there.
          </Radix.Description>
          <Suspense fallback={null}>
            <SignInForm name={name} />
          </Suspense>
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
