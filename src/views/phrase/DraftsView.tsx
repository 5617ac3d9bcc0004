import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { plural } from '../../core/words.ts';
import { Button } from '../../ui/Button.tsx';
import { useActions } from '../../ui/actions.ts';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { RoleMark } from '../../ui/drawing/RoleMark.tsx';
import { Swatch } from '../../ui/drawing/Swatch.tsx';
import { toastWithUndo } from '../../ui/history/undoToast.ts';
import { isAtWork, tellProblem, useBatches, useDrafts } from '../api/queries.ts';
import { BatchDialog } from '../shared/batch/BatchDialog.tsx';
import { setPhraseState } from '../shared/phrases/state.ts';

/** What waits at Normalize: drafts made in Split, to be looked at and kept, one by one or many at once. */
export default function DraftsView() {
  const { data: drafts, error, isPending } = useDrafts();
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [isChoosing, setChoosing] = useState(false);
  const put = useMutation({
    mutationFn: ({ ids, state }: { ids: readonly string[]; state: 'kept' | 'discarded' }) =>
      setPhraseState(ids, state),
    onError: tellProblem,
    onSuccess: (_, { ids, state }) => {
      const what = ids.length === 1 ? 'the phrase' : `${ids.length} phrases`;
      const [done, undoing] = state === 'kept' ? ['Kept', 'keeping'] : ['Discarded', 'discarding'];
      toastWithUndo(
        `${done} ${what}.`,
        `${undoing} ${what}`,
        () => setPhraseState(ids, 'draft').catch(tellProblem),
        { redo: () => setPhraseState(ids, state).catch(tellProblem) },
      );
    },
  });
  const chosen = (drafts ?? []).flatMap(({ id }) => (left.has(id) ? [] : [id]));
  const keep = () => chosen.length > 0 && put.mutate({ ids: chosen, state: 'kept' });
  useActions('Drafts', [
    { title: 'Keep the chosen drafts', keys: ['k'], run: keep },
    {
      title: 'Discard the chosen drafts',
      run: () => chosen.length > 0 && put.mutate({ ids: chosen, state: 'discarded' }),
      words: 'delete remove set aside',
    },
    { title: 'A recipe for the chosen drafts', keys: ['n'], run: () => setChoosing(chosen.length > 0) },
  ]);
  if (isPending) return <Busy what="Looking for drafts" />;
  if (error) return <EmptyState title="The drafts could not be loaded">{error.message}</EmptyState>;
  if (drafts.length === 0) {
    return (
      <div className="flex flex-1 flex-col overflow-auto px-5 pt-4 pb-8">
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
        <div className="mx-auto w-full max-w-4xl">
          <Batches />
        </div>
      </div>
    );
  }
  const toggle = (ids: readonly string[], out: boolean) =>
    setLeft((old) => {
      const next = new Set(old);
      for (const id of ids) {
        if (out) next.add(id);
        else next.delete(id);
      }
      return next;
    });
  const all = drafts.map(({ id }) => id);
  return (
    <div className="mx-auto w-full max-w-4xl overflow-auto px-5 pt-4 pb-8">
      <div className="mb-3 flex items-center gap-2">
        <h1 className="mr-2 text-xl">Drafts</h1>
        <label className="flex items-center gap-1.5 text-sm">
          <input
            type="checkbox"
            checked={chosen.length === all.length}
            onChange={() => toggle(all, chosen.length === all.length)}
          />
          {chosen.length === all.length ? `all ${all.length}` : `${chosen.length} of ${all.length}`} chosen
        </label>
        <Link to="/house" className="ml-auto text-sm underline decoration-rule underline-offset-3">
          House standard
        </Link>
        <Button
          kind="quiet"
          onClick={() => put.mutate({ ids: chosen, state: 'discarded' })}
          disabled={put.isPending || chosen.length === 0}
        >
          Discard
        </Button>
        <Button onClick={() => setChoosing(true)} disabled={chosen.length === 0} title="N">
          Recipe ...
        </Button>
        <Button kind="primary" onClick={keep} disabled={put.isPending || chosen.length === 0} title="K">
          Keep {chosen.length === all.length && all.length > 1 ? `all ${all.length}` : chosen.length}
        </Button>
      </div>
      <BatchDialog
        open={isChoosing}
        phrases={{ phraseIds: chosen }}
        count={chosen.length}
        onClose={() => setChoosing(false)}
      />
      {drafts.map((draft) => (
        <div key={draft.id} className="quiet-row flex items-center gap-4 py-1.5">
          <input
            type="checkbox"
            aria-label={`Choose ${draft.name}`}
            checked={!left.has(draft.id)}
            onChange={() => toggle([draft.id], !left.has(draft.id))}
          />
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
          <Button
            small
            aria-label={`Keep ${draft.name}`}
            onClick={() => put.mutate({ ids: [draft.id], state: 'kept' })}
            disabled={put.isPending}
          >
            Keep
          </Button>
        </div>
      ))}
      <Batches />
    </div>
  );
}

/** Recipes that were given to many phrases lately: to go on with, or to take back. */
function Batches() {
  const { data: batches = [] } = useBatches();
  if (batches.length === 0) return null;
  return (
    <section aria-label="Batches" className="mt-6">
      <h2 className="mb-1 text-lg">Batches</h2>
      {batches.map(({ id, title, phase, counts }) => (
        <Link
          key={id}
          to={`/normalize/batch/${id}`}
          className="quiet-row flex items-baseline gap-3 py-1 hover:underline"
        >
          <span className="truncate">{title}</span>
          <span className="ml-auto text-sm whitespace-nowrap text-muted">
            {isAtWork(phase)
              ? 'at work'
              : counts.applied > 0
                ? `${plural(counts.applied, 'phrase')} changed`
                : `${plural(counts.looked, 'phrase')} would change`}
          </span>
        </Link>
      ))}
    </section>
  );
}
