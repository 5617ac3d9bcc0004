import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { LIKE_WEIGHTS, type LikeWeights } from '../../core/catalog/similar.ts';
import type { LikeThis, Twin } from '../../server/library/phrases/twice.ts';
import { RoleMark } from '../../ui/drawing/RoleMark.tsx';
import { ThinSlider } from '../../ui/fields/ThinSlider.tsx';
import { toastWithUndo } from '../../ui/history/undoToast.ts';
import { request, sendJson } from '../api/client.ts';
import { renew, tellProblem } from '../api/queries.ts';

const setApart = (phraseIds: readonly [string, string], apart: boolean) =>
  sendJson('POST', '/api/twice/apart', { phraseIds, apart }).then(() => renew('twins', 'twice'));

/** What is the same as a phrase, and what is like it. */
export function Alike({
  id,
  onChoose,
}: {
  id: string;
  /** Chooses another phrase, and lets it be heard. */
  onChoose: (id: string) => void;
}) {
  const [weights, setWeights] = useState<LikeWeights>({ rhythm: 1, pitch: 1, chords: 1 });
  const asked = new URLSearchParams(LIKE_WEIGHTS.map((name) => [name, String(weights[name])])).toString();
  const { data: twins } = useQuery({
    queryKey: ['twins', id],
    queryFn: () => request<Twin[]>(`/api/phrases/${id}/twins`),
  });
  const { data: likes } = useQuery({
    queryKey: ['like', id, asked],
    queryFn: () => request<LikeThis[]>(`/api/phrases/${id}/like?${asked}`),
    placeholderData: (old) => old,
  });
  const different = useMutation({
    mutationFn: (other: string) => setApart([id, other], true).then(() => other),
    onError: tellProblem,
    onSuccess: (other) =>
      toastWithUndo('They are different: it is not asked again.', 'telling them apart', () =>
        setApart([id, other], false).catch(tellProblem),
      ),
  });
  return (
    <div className="grid gap-4">
      <section aria-label="The same">
        <h2 className="mb-1">The same, or nearly</h2>
        {twins?.length === 0 && (
          <p className="text-sm text-muted">Nothing else in the library is it again.</p>
        )}
        <ul className="grid gap-1">
          {twins?.map(({ phrase, likeness }) => (
            <li key={phrase.id} className="grid gap-0.5">
              <Choose phrase={phrase} onChoose={onChoose} />
              <span className="flex items-baseline gap-2 pl-5 text-sm text-muted">
                <span className="min-w-0 flex-1">{likeness.text}</span>
                <button
                  type="button"
                  className="min-h-6 underline decoration-rule underline-offset-3 hover:decoration-ink"
                  title="These are different: it is never asked again"
                  onClick={() => different.mutate(phrase.id)}
                >
                  different
                </button>
              </span>
            </li>
          ))}
        </ul>
      </section>
      <section aria-label="More like this">
        <h2 className="mb-1">More like this</h2>
        <div className="mb-2 grid grid-cols-[52px_1fr] items-center gap-x-2 gap-y-1 text-sm">
          {LIKE_WEIGHTS.map((name) => (
            <div key={name} className="contents">
              <span className="text-muted">{name}</span>
              <ThinSlider
                label={`How much ${name} counts`}
                className="w-full"
                value={weights[name]}
                onValue={(value) => setWeights((old) => ({ ...old, [name]: value }))}
              />
            </div>
          ))}
        </div>
        {likes?.length === 0 && <p className="text-sm text-muted">No other phrase has this role.</p>}
        <ul className="grid gap-1">
          {likes?.slice(0, SHOWN).map(({ phrase, agreements }) => (
            <li key={phrase.id}>
              <Choose phrase={phrase} onChoose={onChoose} />
              <span className="block pl-5 text-sm text-muted">{agreements.join(', ')}</span>
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}

/** So many that are like it are told. */
const SHOWN = 8;

function Choose({ phrase, onChoose }: { phrase: Twin['phrase']; onChoose: (id: string) => void }) {
  return (
    <button
      type="button"
      className="flex min-h-6 w-full items-center gap-2 text-left hover:bg-sunk"
      onClick={() => onChoose(phrase.id)}
    >
      <RoleMark role={phrase.role} bare />
      <span className="truncate font-bold" title={phrase.name}>
        {phrase.name}
      </span>
    </button>
  );
}
