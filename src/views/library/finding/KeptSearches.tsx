import { useMutation, useQuery } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { toast } from 'sonner';
import type { KeptSearch } from '../../../server/library/phrases/searches.ts';
import { Button } from '../../../ui/Button.tsx';
import { Dialog } from '../../../ui/Dialog.tsx';
import { toastWithUndo } from '../../../ui/history/undoToast.ts';
import { request, sendJson } from '../../api/client.ts';
import { NameForm } from '../../shared/editing/NameForm.tsx';
import { renew, tellProblem } from '../../api/queries.ts';
import type { Filter } from '../../shared/phrases/filter.ts';

const keep = (search: { name: string; query: string }) =>
  sendJson<KeptSearch>('POST', '/api/searches', search).then(() => renew('searches'));

/** Searches that are kept under a name: opened, forgotten, and the one on the screen kept. */
export function KeptSearches({ filter, onClose }: { filter: Filter; onClose: () => void }) {
  const { data: searches = [] } = useQuery({
    queryKey: ['searches'],
    queryFn: () => request<KeptSearch[]>('/api/searches'),
  });
  const keeping = useMutation({
    mutationFn: (called: string) => keep({ name: called, query: filter.query }),
    onError: tellProblem,
    onSuccess: (_, called) => {
      toast(`This search is kept as "${called}".`);
      onClose();
    },
  });
  const forget = useMutation({
    mutationFn: (id: string) => sendJson<KeptSearch>('DELETE', `/api/searches/${id}`),
    onError: tellProblem,
    onSuccess: (gone) => {
      void renew('searches');
      toastWithUndo(`"${gone.name}" is forgotten.`, `forgetting "${gone.name}"`, () =>
        keep(gone).catch(tellProblem),
      );
    },
  });
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="Searches"
      description="A search is its words, what is ticked, and its order."
    >
      {searches.length === 0 ? (
        <p className="mb-4 text-muted">None is kept yet.</p>
      ) : (
        <ul className="mb-4 grid gap-1">
          {searches.map((search) => (
            <li key={search.id} className="flex items-center gap-2">
              <button
                type="button"
                className="min-h-8 min-w-0 flex-1 truncate rounded-[3px] px-2 text-left hover:bg-sunk"
                onClick={() => {
                  filter.open(search.query);
                  onClose();
                }}
              >
                <b>{search.name}</b>{' '}
                <span className="text-sm text-muted">
                  {decodeURIComponent(search.query.replaceAll('+', ' '))}
                </span>
              </button>
              <Button small aria-label={`Forget ${search.name}`} onClick={() => forget.mutate(search.id)}>
                <X size={12} aria-hidden="true" />
              </Button>
            </li>
          ))}
        </ul>
      )}
      <NameForm
        isMain
        label="Name of this search"
        placeholder="A name for what is on the screen"
        button="Keep this search"
        isShut={filter.isEmpty}
        onName={(name) => keeping.mutateAsync(name)}
      />
      {filter.isEmpty && (
        <p className="mt-1 text-sm text-muted">Nothing is narrowed yet: there is no search to keep.</p>
      )}
    </Dialog>
  );
}
