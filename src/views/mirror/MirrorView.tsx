import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { plural } from '../../core/words.ts';
import type { MirrorState } from '../../server/jobs/mirror.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { request, sendJson } from '../api/client.ts';
import { renew, tellProblem } from '../api/queries.ts';
import { HandOffRoom } from '../shared/leaving/HandOffRoom.tsx';

/** Baskets as folders that other programs look into: how each stands, and what stands there that is not ours. */
export default function MirrorView() {
  const { data, error } = useQuery({
    queryKey: ['mirrors'],
    queryFn: () => request<{ root: string; mirrors: MirrorState[] }>('/api/mirror'),
  });
  if (error) return <EmptyState title="The mirrors could not be looked at">{error.message}</EmptyState>;
  if (!data) return <Busy what="Looking at the mirrors" />;
  return (
    <HandOffRoom>
      <div className="w-full max-w-4xl overflow-auto pb-8">
        <h1 className="mt-3 mb-1 text-xl">Mirrored baskets</h1>
        <p className="mb-4 max-w-2xl text-muted">
          A mirrored basket is a folder that is always in step with it: the place that other programs look
          into. Names stay while a phrase is in its basket; what is not ours is left alone. They lie in{' '}
          <code className="text-sm break-all">{data.root}</code>
        </p>
        {data.mirrors.length === 0 && (
          <p className="text-muted">
            No basket is mirrored yet. In{' '}
            <Link className="underline" to="/handoff">
              a basket
            </Link>
            , say the folder it is mirrored to.
          </p>
        )}
        <ul className="grid gap-5">
          {data.mirrors.map((mirror) => (
            <Mirror key={mirror.basketId} mirror={mirror} />
          ))}
        </ul>
      </div>
    </HandOffRoom>
  );
}

function Mirror({ mirror }: { mirror: MirrorState }) {
  const { basketId, name, folder, files, foreign, cameBack } = mirror;
  const takeIn = useMutation({
    mutationFn: () => sendJson('POST', `/api/mirror/${basketId}/take-in`),
    onError: tellProblem,
    onSuccess: () => {
      toast(`${plural(foreign.length + cameBack.length, 'file')} are being taken in.`);
      void renew('takes', 'intakes', 'stages');
    },
  });
  return (
    <li className="border-t border-rule pt-3">
      <div className="flex flex-wrap items-baseline gap-3">
        <h2 className="text-lg">
          <Link to={`/handoff/${basketId}`}>{name}</Link>
        </h2>
        <code className="text-sm text-muted">{folder}/</code>
        <span className="ml-auto text-sm" role="status">
          <Standing mirror={mirror} />
        </span>
        <TidyNames basketId={basketId} />
      </div>
      <p className="text-sm text-muted">{plural(files, 'file')} of ours</p>
      {cameBack.length > 0 && (
        <FileList title="Changed by somebody: theirs stays, ours stands beside it" files={cameBack} />
      )}
      {foreign.length > 0 && <FileList title="Not ours, left alone" files={foreign} />}
      {foreign.length + cameBack.length > 0 && (
        <Button small onClick={() => takeIn.mutate()} disabled={takeIn.isPending}>
          Take {plural(foreign.length + cameBack.length, 'file')} in
        </Button>
      )}
    </li>
  );
}

/** In step, waiting, or why it cannot be written. */
function Standing({ mirror: { waits, problem } }: { mirror: MirrorState }) {
  if (problem) return <span className="text-madder">Cannot be written. {problem}</span>;
  return waits ? (
    <span>is coming into step</span>
  ) : (
    <span>
      <span className="text-good" aria-hidden="true">
        ✓
      </span>{' '}
      in step
    </span>
  );
}

/** Files that are listed at once. */
const SHOWN = 8;

function FileList({ title, files }: { title: string; files: readonly string[] }) {
  return (
    <section className="my-2">
      <h3 className="label mb-0.5">{title}</h3>
      <ul className="text-sm">
        {files.slice(0, SHOWN).map((file) => (
          <li key={file} className="truncate">
            {file}
          </li>
        ))}
        {files.length > SHOWN && <li className="text-muted">and {files.length - SHOWN} more</li>}
      </ul>
    </section>
  );
}

interface Moves {
  moves: { from: string; to: string }[];
}

/** Gives files the names they would have if they were new; first it is said what is moved. */
function TidyNames({ basketId }: { basketId: string }) {
  const [moves, setMoves] = useState<Moves['moves'] | null>(null);
  const look = () =>
    void request<Moves>(`/api/mirror/${basketId}/tidy`).then((found) => setMoves(found.moves), tellProblem);
  const tidy = useMutation({
    mutationFn: () => sendJson<Moves>('POST', `/api/mirror/${basketId}/tidy`),
    onError: tellProblem,
    onSuccess: (done) => {
      setMoves(null);
      toast(`${plural(done.moves.length, 'file')} moved.`);
      void renew('mirrors');
    },
  });
  return (
    <>
      <Button small onClick={look}>
        Tidy names
      </Button>
      <Dialog
        open={moves !== null}
        onOpenChange={(open) => !open && setMoves(null)}
        title="Tidy names"
        description="Files get the names they would have if they were new. A project of another program that points at one of them will not find it any more."
      >
        {moves?.length === 0 && <p>Every file has its name already.</p>}
        {moves !== null && moves.length > 0 && (
          <>
            <ul className="mb-3 max-h-72 overflow-auto text-sm">
              {moves.map(({ from, to }) => (
                <li key={from} className="py-0.5">
                  <span className="text-muted">{from}</span> becomes <b>{to}</b>
                </li>
              ))}
            </ul>
            <Button kind="primary" disabled={tidy.isPending} onClick={() => tidy.mutate()}>
              Move {plural(moves.length, 'file')}
            </Button>
          </>
        )}
      </Dialog>
    </>
  );
}
