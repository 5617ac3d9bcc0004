import { useQuery } from '@tanstack/react-query';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { request } from '../api/client.ts';
import { useMe } from '../api/queries.ts';
import { Invite } from './Invite.tsx';
import { OwnAccount } from './OwnAccount.tsx';
import { PeopleTable } from './PeopleTable.tsx';
import type { PersonWire } from './queries.ts';
import { Record } from './Record.tsx';

/** Who works in this library, who else may come in, and who did what. */
export default function PeopleView() {
  const { data: me } = useMe();
  if (!me) return <Busy what="Looking who is here" />;
  if (!me.accounts || !me.person)
    return (
      <EmptyState title="Nobody has to sign in here">
        <p>
          Only this machine reaches the library, and whoever is at it works in it. Where others are to work in
          it too, start it with <code>ACCOUNTS=on</code>, or with a <code>HOST</code> that others reach: then
          everybody has a name, a password, and what they may do.
        </p>
        <p className="mt-2">
          The terminal shows a link for the first owner, who lets in everybody else. More stands in{' '}
          <code>docs/groups.md</code>.
        </p>
      </EmptyState>
    );
  return <People me={me.person} />;
}

function People({ me }: { me: { id: string; name: string; role: string } }) {
  const isOwner = me.role === 'owner';
  const { data: people, error } = useQuery({
    queryKey: ['people'],
    queryFn: async () => (await request<{ people: PersonWire[] }>('/api/people')).people,
  });
  if (error) return <EmptyState title="The people could not be loaded">{error.message}</EmptyState>;
  if (!people) return <Busy what="Looking who is here" />;
  return (
    <div className="flex min-w-0 flex-1 gap-8 overflow-auto px-5 py-4 middling:flex-col">
      <div className="min-w-0 flex-1">
        <h1 className="mb-2 text-xl">People</h1>
        <PeopleTable people={people} me={me.id} isOwner={isOwner} />
        {isOwner && <Record />}
      </div>
      <aside className="flex w-[330px] flex-none flex-col gap-6 middling:w-full">
        {isOwner && <Invite />}
        <OwnAccount />
      </aside>
    </div>
  );
}
