import { useMutation, useQuery } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { plural } from '../../core/words.ts';
import type { TwiceGroups } from '../../server/jobs/twice.ts';
import { useActions } from '../../ui/actions.ts';
import { Button } from '../../ui/Button.tsx';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { Swatch } from '../../ui/drawing/Swatch.tsx';
import { request, sendJson } from '../api/client.ts';
import { renew, tellProblem } from '../api/queries.ts';
import { ago } from '../../ui/time.ts';
import { toastWithUndo } from '../../ui/history/undoToast.ts';
import { PhraseCells, PhraseHeadings } from '../shared/phrases/PhraseCells.tsx';
import { exchange, placesInWords, placesOf } from '../shared/phrases/places.ts';
import { setAsideOf } from '../shared/phrases/state.ts';
import { useBrowsing } from '../shared/phrases/browsing.ts';

type Group = TwiceGroups['groups'][number];

/** What is in the library twice: groups, each with the ways out. */
export default function TwiceView() {
  const navigate = useNavigate();
  const twice = useQuery({
    queryKey: ['twice'],
    queryFn: () => request<TwiceGroups>('/api/twice'),
  });
  const look = useMutation({
    mutationFn: () => sendJson('POST', '/api/twice'),
    onError: tellProblem,
    onSettled: () => renew('twice'),
  });
  const stop = useMutation({
    mutationFn: () => sendJson('DELETE', '/api/twice'),
    onError: tellProblem,
    onSettled: () => renew('twice'),
  });
  const { hear } = useBrowsing();
  // Who comes here wants to know: looking begins by itself where nobody has looked yet.
  const begun = useRef(false);
  const state = twice.data?.state;
  useEffect(() => {
    if (state !== 'never' || begun.current) return;
    begun.current = true;
    look.mutate();
  }, [state, look]);
  useActions('Twice', [
    { title: 'Back to the phrases', keys: ['Escape'], run: () => void navigate('/library') },
    { title: 'Look through the library again', run: () => look.mutate(), words: 'duplicates refresh' },
  ]);
  if (twice.error)
    return <EmptyState title="What is there twice could not be found">{twice.error.message}</EmptyState>;
  if (!twice.data) return <Busy what="Looking" />;
  const { groups, total, done, of, compared, at } = twice.data;
  const isLooking = state === 'looking';
  return (
    <div className="flex min-w-0 flex-1 flex-col gap-3 overflow-auto px-5 py-3">
      <div className="flex items-baseline gap-4">
        <h1 className="text-xl">Twice in the library</h1>
        <span className="text-sm text-muted" role="status">
          {isLooking
            ? `Looking: ${Math.round((100 * done) / of)} %, ${plural(compared, 'pair')} compared, ${plural(total, 'group')} so far`
            : [
                plural(total, 'group'),
                `${plural(compared, 'pair')} compared note by note${state === 'stopped' ? ', stopped before the end' : ''}`,
                ...(at ? [`looked through ${ago(at)}`] : []),
              ].join('; ')}
        </span>
        {isLooking ? (
          <Button small onClick={() => stop.mutate()}>
            Stop
          </Button>
        ) : (
          <Button small disabled={look.isPending} onClick={() => look.mutate()}>
            Look again
          </Button>
        )}
        <Link className="ml-auto text-sm underline decoration-rule underline-offset-3" to="/library">
          The phrases
        </Link>
      </div>
      {groups.length === 0 && !isLooking && (
        <EmptyState title="Nothing is here twice">
          The same notes are found in any key, at any tempo, in half time, and varied in up to a fifth of
          their strokes.
        </EmptyState>
      )}
      <ul className="grid gap-4">
        {groups.map((group) => (
          <TwiceGroup key={group[0]!.phrase.id} group={group} onHear={(id) => hear(id, true)} />
        ))}
      </ul>
      {total > groups.length && (
        <p className="text-sm text-muted">
          {total - groups.length} more are shown once some of these are settled.
        </p>
      )}
    </div>
  );
}

const COLUMNS =
  'grid grid-cols-[120px_minmax(130px,1.2fr)_92px_44px_46px_36px_40px_minmax(160px,1.6fr)_104px] items-center gap-x-3';

/** Baskets and weaves that hold what was set aside are told, and offered the one that stays. */
async function offerInPlace(kept: string, others: readonly { id: string; name: string }[]): Promise<void> {
  for (const { id, name } of others) {
    const places = await placesOf([id]);
    if (places.length === 0) continue;
    toast(`"${name}" still stands in ${placesInWords(places)}.`, {
      description: places.map((place) => place.name).join(', '),
      duration: 20_000,
      action: {
        label: 'Put the one that stays there',
        onClick: () =>
          void exchange(id, kept, places).then(
            () =>
              toastWithUndo(`The one that stays is in ${placesInWords(places)}.`, 'putting it there', () =>
                exchange(kept, id, places).catch(tellProblem),
              ),
            tellProblem,
          ),
      },
    });
  }
}

function TwiceGroup({ group, onHear }: { group: Group; onHear: (id: string) => void }) {
  const keepOne = (kept: string) => {
    const others = group.filter(({ phrase }) => phrase.id !== kept).map(({ phrase }) => phrase);
    void setAsideOf(others)
      .then(() => renew('twice'))
      .then(() => offerInPlace(kept, others))
      .catch(tellProblem);
  };
  const different = () =>
    Promise.all(
      group
        .slice(1)
        .flatMap(({ phrase }, k) =>
          group
            .slice(0, k + 1)
            .map((other) =>
              sendJson('POST', '/api/twice/apart', { phraseIds: [other.phrase.id, phrase.id], apart: true }),
            ),
        ),
    ).then(() => renew('twice', 'twins'), tellProblem);
  const bind = () => {
    const phraseIds = group.map(({ phrase }) => phrase.id);
    const send = (bound: boolean) =>
      sendJson('POST', '/api/twice/variants', { phraseIds, bound }).then(() => renew('twice', 'twins', 'relatives'), tellProblem); // prettier-ignore
    return send(true).then(() =>
      toastWithUndo(
        `${plural(group.length, 'phrase')} are variants of one.`,
        'binding variants',
        () => void send(false),
      ),
    );
  };
  return (
    <li className="rounded-[3px] border border-rule bg-card">
      <div className={`${COLUMNS} border-b border-rule px-2 py-1 text-sm text-muted`}>
        <span>Swatch</span>
        <span>Phrase</span>
        <PhraseHeadings />
        <span className="flex items-center justify-between gap-2">
          Against the first
          <Button
            small
            onClick={() => void bind()}
            title="They belong together: each tells of the others, and it is never asked again"
          >
            Variants
          </Button>
        </span>
        <Button small onClick={() => void different()} title="These are different: it is never asked again">
          All different
        </Button>
      </div>
      {group.map(({ phrase, text }) => (
        <div key={phrase.id} className={`${COLUMNS} px-2 py-0.5`}>
          <button
            type="button"
            title="Listen"
            aria-label={`Listen to ${phrase.name}`}
            onClick={() => onHear(phrase.id)}
          >
            <Swatch notes={phrase.swatch} role={phrase.role} bars={phrase.bars} width={116} height={24} />
          </button>
          <Link className="truncate font-bold" to={`/normalize/${phrase.id}`} title={phrase.name}>
            {phrase.name}
          </Link>
          <PhraseCells phrase={phrase} />
          <span className="text-sm text-muted">{text}</span>
          <Button
            small
            onClick={() => keepOne(phrase.id)}
            title="The others are set aside; baskets that hold them are told"
          >
            Keep this one
          </Button>
        </div>
      ))}
    </li>
  );
}
