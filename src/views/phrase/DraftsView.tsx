import { useMutation } from '@tanstack/react-query';
import { Link } from 'react-router';
import { Button } from '../../ui/Button.tsx';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { RoleMark } from '../../ui/RoleMark.tsx';
import { Swatch } from '../../ui/Swatch.tsx';
import { toastWithUndo } from '../../ui/undoToast.ts';
import { sendJson } from '../api/client.ts';
import { tellProblem, useDrafts, renew } from '../api/queries.ts';

/** What waits at Normalize: drafts made in Split, to be looked at and kept. */
export default function DraftsView() {
  const { data: drafts, error, isPending } = useDrafts();
  const setState = async (phraseIds: string[], state: 'kept' | 'draft') => {
    await sendJson('POST', '/api/phrases/state', { phraseIds, state });
    await renew('drafts', 'phrases', 'facets', 'takes', 'phrase');
  };
  const keep = useMutation({
    mutationFn: (phraseIds: string[]) => setState(phraseIds, 'kept'),
    onError: tellProblem,
    onSuccess: (_, phraseIds) => {
      const what = phraseIds.length === 1 ? 'the phrase' : `${phraseIds.length} phrases`;
      toastWithUndo(`Kept ${what}.`, 'keeping', () => void setState(phraseIds, 'draft').catch(tellProblem));
    },
  });
  if (isPending) return <Busy what="Looking for drafts" />;
  if (error) return <EmptyState title="The drafts could not be loaded">{error.message}</EmptyState>;
  if (drafts.length === 0) {
    return (
      <EmptyState
        title="No drafts wait"
        action={
          <Link className="underline" to="/split">
            Go to the takes
          </Link>
        }
      >
        Phrases cut from a take come here, with the house recipe of their role, to be checked and kept.
      </EmptyState>
    );
  }
  return (
    <div className="mx-auto w-full max-w-4xl overflow-auto px-5 pt-4 pb-8">
      <div className="mb-4 flex items-baseline justify-between">
        <h1 className="text-xl">Drafts</h1>
        <Button onClick={() => keep.mutate(drafts.map(({ id }) => id))} disabled={keep.isPending}>
          Keep all {drafts.length}
        </Button>
      </div>
      {drafts.map((draft) => (
        <div key={draft.id} className="quiet-row flex items-center gap-4 py-1.5">
          <Swatch notes={draft.swatch} role={draft.role} bars={draft.bars} width={150} height={30} />
          <Link to={`/normalize/${draft.id}`} className="w-64 truncate font-bold">
            {draft.name}
          </Link>
          <span className="w-28">
            <RoleMark role={draft.role} />
          </span>
          <span className="flex-1 truncate text-sm text-muted">
            {draft.takeName}, bars {draft.startBar} to {draft.startBar + draft.bars - 1}
          </span>
          <Button small onClick={() => keep.mutate([draft.id])} disabled={keep.isPending}>
            Keep
          </Button>
        </div>
      ))}
    </div>
  );
}
