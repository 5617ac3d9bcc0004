import { useMutation, useQuery } from '@tanstack/react-query';
import { PackageOpen } from 'lucide-react';
import { useRef } from 'react';
import { Link, useNavigate } from 'react-router';
import { plural } from '../../core/words.ts';
import type { WaitingPack } from '../../server/library/handoff/packs-in.ts';
import { useActions } from '../../ui/actions.ts';
import { Button } from '../../ui/Button.tsx';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { day } from '../../ui/time.ts';
import { request, sendJson } from '../api/client.ts';
import { renew, tellProblem } from '../api/queries.ts';
import { HandOffRoom } from '../shared/leaving/HandOffRoom.tsx';
import { layDown } from '../shared/leaving/packs-in.ts';

/** Packs that came back, or came from somebody else, and wait until it is chosen what is taken of them. */
export default function PacksInView() {
  const navigate = useNavigate();
  const chooser = useRef<HTMLInputElement>(null);
  const { data: packs, error } = useQuery({
    queryKey: ['packs-in'],
    queryFn: async () => (await request<{ packs: WaitingPack[] }>('/api/merge')).packs,
  });
  const open = useMutation({
    mutationFn: layDown,
    onError: tellProblem,
    onSuccess: (path) => void navigate(path),
  });
  const letGo = useMutation({
    mutationFn: (id: string) => sendJson('DELETE', `/api/merge/${id}`),
    onError: tellProblem,
    onSettled: () => renew('packs-in'),
  });
  useActions('Came back', [
    {
      title: 'Open a pack',
      run: () => chooser.current?.click(),
      words: 'merge zip import answer',
    },
  ]);
  if (error) return <EmptyState title="The packs could not be looked for">{error.message}</EmptyState>;
  if (!packs) return <Busy what="Looking for packs" />;
  return (
    <HandOffRoom>
      <div className="w-full max-w-3xl overflow-auto pb-8">
        <div className="mt-3 mb-1 flex items-center gap-3">
          <h1 className="flex-1 text-xl">Packs that came back</h1>
          <Button kind="primary" disabled={open.isPending} onClick={() => chooser.current?.click()}>
            <PackageOpen size={15} aria-hidden="true" /> {open.isPending ? 'Opening' : 'Open a pack'}
          </Button>
        </div>
        <input
          ref={chooser}
          type="file"
          accept=".zip,application/zip"
          className="sr-only"
          aria-label="A pack that came back"
          tabIndex={-1}
          onChange={({ target }) => {
            const file = target.files?.[0];
            if (file) open.mutate(file);
            target.value = '';
          }}
        />
        <p className="mb-4 max-w-2xl text-muted">
          A pack that left here and was worked on, or one of somebody else's library. It is held against what
          is here first; nothing is taken until you say what. It can also be dropped on any view.
        </p>
        {packs.length === 0 && <p className="text-muted">No pack waits.</p>}
        <ul>
          {packs.map(({ id, title, from, sentBy, phrases, at }) => (
            <li key={id} className="quiet-row flex items-center gap-4 px-1 py-2.5 hover:bg-card">
              <Link to={`/handoff/came-back/${id}`} className="min-w-0 flex-1 truncate font-bold">
                {title}
              </Link>
              <span className="w-48 truncate text-muted">
                {sentBy ? `sent by ${sentBy}` : from && `was for ${from}`}
              </span>
              <span className="w-24 text-right">{plural(phrases, 'phrase')}</span>
              <span className="w-24 text-right text-sm text-muted">{day(at)}</span>
              <Button small kind="quiet" aria-label={`Let go: ${title}`} onClick={() => letGo.mutate(id)}>
                Let go
              </Button>
            </li>
          ))}
        </ul>
      </div>
    </HandOffRoom>
  );
}
