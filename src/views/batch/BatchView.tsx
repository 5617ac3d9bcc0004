import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { Link, useParams } from 'react-router';
import { plural } from '../../core/words.ts';
import { Button } from '../../ui/Button.tsx';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { useActions } from '../../ui/actions.ts';
import { sendJson } from '../api/client.ts';
import { isAtWork, renew, tellProblem, useBatch, useBatchRows, type BatchWire } from '../api/queries.ts';
import { BatchTable } from './BatchTable.tsx';

/** What a recipe would change about many phrases, before anything does; then it is done, and can be taken back. */
export default function BatchView() {
  const { id = '' } = useParams();
  const { data: batch, error } = useBatch(id);
  if (error) return <EmptyState title="This batch could not be opened">{error.message}</EmptyState>;
  if (!batch) return <Busy what="Opening the batch" />;
  return <OpenBatch batch={batch} />;
}

function OpenBatch({ batch }: { batch: BatchWire }) {
  const { id, phase, counts } = batch;
  const { data: rows = [] } = useBatchRows(batch);
  const total = Object.values(counts).reduce((sum, count) => sum + count, 0);
  const client = useQueryClient();
  const setPhase = useMutation({
    mutationFn: (next: 'looking' | 'applying' | 'takingBack' | 'stopped') =>
      sendJson('PATCH', `/api/batches/${id}`, { phase: next }),
    onError: tellProblem,
    onSettled: () => client.invalidateQueries({ queryKey: ['batch', id] }),
  });
  const leave = useMutation({
    mutationFn: ({ ids, out }: { ids: string[]; out: boolean }) =>
      sendJson('POST', `/api/batches/${id}/left`, { phraseIds: ids, out }),
    onError: tellProblem,
    onSettled: () => client.invalidateQueries({ queryKey: ['batch', id] }),
  });
  useRenewedPhrases(phase);
  const canApply = counts.looked > 0 && (phase === 'looked' || phase === 'stopped' || phase === 'takenBack');
  useActions('Batch', [
    { title: 'Apply to all that are chosen', run: () => canApply && setPhase.mutate('applying') },
    { title: 'Take the batch back', run: () => counts.applied > 0 && setPhase.mutate('takingBack') },
    { title: 'Stop', run: () => isAtWork(phase) && setPhase.mutate('stopped') },
  ]);
  return (
    <div className="flex min-w-0 flex-1 flex-col px-5 pt-4 pb-3">
      <div className="mb-1 flex items-baseline gap-4">
        <h1 className="text-xl">{batch.title}</h1>
        <Link
          to="/normalize"
          className="ml-auto text-sm underline decoration-rule underline-offset-3 hover:decoration-ink"
        >
          Drafts
        </Link>
      </div>
      <div className="mb-3 flex items-center gap-3">
        <p role="status" className="min-w-0 flex-1">
          {inWords(batch)}
        </p>
        {isAtWork(phase) && (
          <>
            <progress
              className="h-2 w-56 accent-indigo"
              max={Math.max(1, total)}
              value={doneOf(batch)}
              aria-label="How far it is"
            />
            <Button onClick={() => setPhase.mutate('stopped')} disabled={setPhase.isPending}>
              Stop
            </Button>
          </>
        )}
        {counts.applied > 0 && !isAtWork(phase) && (
          <Button onClick={() => setPhase.mutate('takingBack')} disabled={setPhase.isPending}>
            Take back
          </Button>
        )}
        {phase === 'stopped' && counts.waiting > 0 && (
          <Button onClick={() => setPhase.mutate('looking')} disabled={setPhase.isPending}>
            Go on looking
          </Button>
        )}
        {canApply && (
          <Button kind="primary" onClick={() => setPhase.mutate('applying')} disabled={setPhase.isPending}>
            Apply to {plural(counts.looked, 'phrase')}
          </Button>
        )}
      </div>
      {total > rows.length && rows.length > 0 && (
        <p className="mb-2 text-sm text-muted">
          The {rows.length.toLocaleString('en')} most unusual are listed; what is done is done to all.
        </p>
      )}
      <BatchTable
        rows={rows}
        canChoose={!isAtWork(phase)}
        onLeave={(ids, out) => leave.mutate({ ids, out })}
      />
    </div>
  );
}

/** Everything that shows phrases is asked for again when something was done to many. */
function useRenewedPhrases(phase: BatchWire['phase']): void {
  const before = useRef(phase);
  useEffect(() => {
    if (before.current === phase) return;
    before.current = phase;
    if (phase === 'applied' || phase === 'takenBack' || phase === 'stopped')
      void renew('phrases', 'phrase', 'facets', 'drafts', 'basket', 'batches', 'habits');
  }, [phase]);
}

function doneOf({ phase, counts }: BatchWire): number {
  const { looked, same, refused, applied, left } = counts;
  if (phase === 'applying') return applied + same + refused + left;
  if (phase === 'takingBack') return looked + same + refused + left;
  return looked + same + refused;
}

function inWords({ phase, counts }: BatchWire): string {
  const rest = [
    counts.same > 0 && `${counts.same} are so already`,
    counts.left > 0 && `${counts.left} left out`,
    counts.refused > 0 && `${counts.refused} refused`,
  ].filter(Boolean);
  const what = {
    looking: `Looking what would change, ${counts.waiting} to go`,
    looked: counts.looked > 0 ? `${plural(counts.looked, 'phrase')} would change` : 'Nothing would change',
    applying: `Changing phrases, ${counts.looked} to go`,
    applied: `${plural(counts.applied, 'phrase')} changed`,
    takingBack: `Taking back, ${counts.applied} to go`,
    takenBack: 'Taken back: every phrase is as it was',
    stopped: `Stopped: ${counts.applied} changed, ${counts.looked + counts.waiting} not`,
  }[phase];
  return [what, ...rest].join('; ');
}
