import { useMutation } from '@tanstack/react-query';
import { Link, useNavigate } from 'react-router';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { sendJson } from '../api/client.ts';
import { tellProblem, useBaskets, renew } from '../api/queries.ts';
import { useCurrentProject } from '../shared/project.ts';
import { NameForm } from '../shared/editing/NameForm.tsx';
import { HandOffRoom } from '../shared/leaving/HandOffRoom.tsx';
import { chooseBasket } from '../shared/current-basket.ts';

/** All baskets, and a new one. */
export default function BasketsView() {
  const { data: baskets, error, isPending } = useBaskets();
  const navigate = useNavigate();
  const project = useCurrentProject();
  const make = useMutation({
    mutationFn: (name: string) =>
      sendJson<{ id: string }>('POST', '/api/baskets', { name, projectId: project?.id ?? null }),
    onError: tellProblem,
    onSuccess: async ({ id }) => {
      chooseBasket(id);
      await renew('baskets');
      void navigate(`/handoff/${id}`);
    },
  });
  if (isPending) return <Busy what="Looking for baskets" />;
  if (error) return <EmptyState title="The baskets could not be loaded">{error.message}</EmptyState>;
  return (
    <HandOffRoom>
      <div className="w-full max-w-3xl overflow-auto pb-8">
        <h1 className="mt-3 mb-1 text-xl">Baskets</h1>
        <p className="mb-4 text-muted">
          A basket gathers phrases for one project or one person, and packs them as open files.
        </p>
        <div className="mb-5">
          <NameForm
            isMain
            label="Name of a new basket"
            placeholder="Name of a new basket, such as: for the percussionist"
            button="Make basket"
            onName={(name) => make.mutateAsync(name)}
          />
        </div>
        {baskets.length === 0 && <p className="text-muted">No basket yet.</p>}
        {baskets.map((basket) => (
          <Link
            key={basket.id}
            to={`/handoff/${basket.id}`}
            className="quiet-row flex items-center gap-4 px-1 py-2.5 hover:bg-card"
          >
            <span className="flex-1 truncate font-bold">{basket.name}</span>
            <span className="w-64 truncate text-muted">
              {[basket.project, basket.recipient && `for ${basket.recipient}`].filter(Boolean).join(', ')}
            </span>
            <span className="w-24 text-right">
              {basket.phrases} {basket.phrases === 1 ? 'phrase' : 'phrases'}
            </span>
          </Link>
        ))}
      </div>
    </HandOffRoom>
  );
}
