import { X } from 'lucide-react';
import { useQuery } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { listen, offer, toggleListening, usePlayer } from '../../sound/player.ts';
import { Button } from '../../ui/Button.tsx';
import { useActions } from '../../ui/actions.ts';
import { usePlace } from '../../ui/place.ts';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { SearchField } from '../../ui/SearchField.tsx';
import { request } from '../api/client.ts';
import { phraseQuery, tellProblem } from '../api/queries.ts';
import { usePutIntoBasket } from '../shared/current-basket.ts';
import { BatchDialog } from '../shared/batch/BatchDialog.tsx';
import { fetchPhrase, phraseListening } from '../shared/phrases/listening.ts';
import { setAsideOf, setPhraseState } from '../shared/phrases/state.ts';
import { saveAddress } from '../../ui/save-file.ts';
import { Facets } from './Facets.tsx';
import { FirstSteps } from './FirstSteps.tsx';
import { useFacets, useFilter, usePhraseList } from '../shared/phrases/filter.ts';
import { PhraseList } from './PhraseList.tsx';
import { promptWithPhrase } from '../shared/prompt.ts';
import { BasketBox, PhraseTicket } from './PhraseTicket.tsx';

/** The library: narrowed at the left, gone through by ear in the middle, told at the right. */
export default function LibraryView() {
  const filter = useFilter();
  const navigate = useNavigate();
  const search = useRef<HTMLInputElement>(null);
  const list = usePhraseList(filter.query);
  const { data: counts } = useFacets(filter.query);
  const phrases = useMemo(() => list.data?.pages.flatMap((page) => page.phrases) ?? [], [list.data]);
  const [selectedId, setSelectedId] = usePlace<string | undefined>('row of phrases', undefined);
  const selected = phrases.find(({ id }) => id === selectedId) ?? phrases[0];
  const sounding = usePlayer((player) => (player.state === 'playing' ? player.listening?.id : undefined));
  const starting = usePlayer(({ state, listening }) =>
    state === 'playing' || state === 'loading' ? listening?.id : undefined,
  );
  const { data: detail } = useQuery({ ...phraseQuery(selected?.id ?? ''), enabled: selected !== undefined });
  useEffect(() => {
    if (detail) offer(phraseListening(detail));
  }, [detail]);
  const put = usePutIntoBasket();

  // What was asked for last; while it is being fetched, it counts as sounding.
  const asked = useRef<string | undefined>(undefined);
  const hear = useCallback((id: string, toggles: boolean) => {
    asked.current = id;
    fetchPhrase(id)
      .then(phraseListening)
      .then((listening) => {
        if (asked.current !== id) return;
        asked.current = undefined;
        return toggles ? toggleListening(listening) : listen(listening);
      })
      .catch(tellProblem);
  }, []);
  const select = (id: string) => {
    setSelectedId(id);
    // Browsing by ear: while something sounds, what is chosen next sounds next.
    const now = asked.current ? `phrase ${asked.current}` : starting;
    if (now?.startsWith('phrase ') && now !== `phrase ${id}`) hear(id, false);
  };
  const step = (by: number) => {
    const at = phrases.findIndex(({ id }) => id === selected?.id);
    const next = phrases[Math.min(Math.max(0, at + by), phrases.length - 1)];
    if (next) select(next.id);
  };
  const [forBatch, setForBatch] = useState<readonly string[] | null>(null);
  const openBatch = () =>
    request<{ phraseIds: string[] }>(`/api/phrases/ids?${filter.query}`).then(
      ({ phraseIds }) => setForBatch(phraseIds),
      tellProblem,
    );
  const playInto = () =>
    selected && void promptWithPhrase(selected.id).then(() => navigate('/capture/live'), tellProblem);
  const setAside = () => selected && void setAsideOf([selected]).catch(tellProblem);
  const bringBack = () => selected && void setPhraseState([selected.id], 'back').catch(tellProblem);
  useActions('Library', [
    {
      title: 'Listen to the chosen phrase, or stop',
      keys: [' '],
      run: () => selected && hear(selected.id, true),
    },
    { title: 'The phrase above', keys: ['ArrowUp'], run: () => step(-1) },
    { title: 'The phrase below', keys: ['ArrowDown'], run: () => step(1) },
    { title: 'A page up', keys: ['PageUp'], run: () => step(-15) },
    { title: 'A page down', keys: ['PageDown'], run: () => step(15) },
    { title: 'The first phrase', keys: ['Home'], run: () => step(-phrases.length) },
    { title: 'The last phrase', keys: ['End'], run: () => step(phrases.length) },
    {
      title: 'Open the phrase',
      keys: ['Enter'],
      run: () => selected && void navigate(`/normalize/${selected.id}`),
    },
    {
      title: 'Put the phrase into the basket',
      keys: ['b'],
      run: () => selected && put.mutate([selected]),
      words: 'add gather hand off',
    },
    filter.aside
      ? { title: 'Bring the phrase back', keys: ['Delete'], run: bringBack, words: 'restore undelete' }
      : { title: 'Set the phrase aside', keys: ['Delete'], run: setAside, words: 'delete remove discard' },
    {
      title: 'Export the phrase as .mid',
      keys: ['Ctrl+e'],
      run: () => selected && saveAddress(`/api/phrases/${selected.id}/file`),
      words: 'download save file midi',
    },
    {
      title: 'Rename or tag the phrase, or change what is known of it',
      run: () => selected && void navigate(`/normalize/${selected.id}`),
      words: 'edit name tags rights project role',
    },
    {
      title: 'What is set aside, or what is kept',
      run: () => filter.setAside(!filter.aside),
      words: 'bin trash',
    },
    { title: 'Play the phrase into a source and record its answer', run: playInto },
    { title: 'Search', keys: ['/'], run: () => search.current?.focus() },
    { title: 'Show all', keys: [], run: filter.clear },
    { title: 'A recipe for all that is found', keys: ['n'], run: () => void openBatch() },
    { title: 'The harmony of the library', keys: ['h'], run: () => void navigate('/library/harmony') },
  ]);
  const { fetchNextPage, hasNextPage, isFetchingNextPage } = list;
  const onEnd = useCallback(() => {
    if (hasNextPage && !isFetchingNextPage) void fetchNextPage();
  }, [fetchNextPage, hasNextPage, isFetchingNextPage]);

  return (
    <>
      <aside
        aria-label="Narrow the list"
        className="w-[196px] flex-none overflow-auto border-r border-rule px-4 py-3 middling:w-[164px] middling:px-2"
      >
        <Facets counts={counts} filter={filter} />
      </aside>
      <div className="flex min-w-0 flex-1 flex-col px-4 pt-3">
        <div className="mb-2 flex items-center gap-2">
          <SearchField
            ref={search}
            label="Search"
            placeholder="Search names, parts, takes and tags ( / )"
            value={filter.text}
            onChange={filter.setText}
          />
          {filter.numerals.map(({ param, words }) => (
            <Button key={param} title="Take this away" onClick={() => filter.remove(param)}>
              {words} <X size={12} aria-hidden="true" />
            </Button>
          ))}
          {!filter.isEmpty && <Button onClick={filter.clear}>Show all</Button>}
          <Link
            to="/library/harmony"
            title="What progressions begin and end on, and which keys are covered (H)"
            className="text-sm whitespace-nowrap underline decoration-rule underline-offset-3 hover:decoration-ink"
          >
            Harmony
          </Link>
          <Button
            small
            kind="quiet"
            title="A recipe for all phrases that are found (N)"
            disabled={phrases.length === 0}
            onClick={() => void openBatch()}
          >
            Recipe for all ...
          </Button>
          <span className="w-24 text-right text-sm text-muted" role="status">
            {counts && `${counts.total.toLocaleString('en')} ${counts.total === 1 ? 'phrase' : 'phrases'}`}
          </span>
        </div>
        {list.error ? (
          <EmptyState title="The library could not be loaded">{list.error.message}</EmptyState>
        ) : list.isPending ? (
          <Busy what="Looking for phrases" />
        ) : phrases.length === 0 ? (
          <NothingFound isEmpty={filter.isEmpty} onClear={filter.clear} />
        ) : (
          <PhraseList
            phrases={phrases}
            total={counts?.total ?? phrases.length}
            selected={selected?.id}
            sounding={sounding?.replace('phrase ', '')}
            onSelect={select}
            onListen={(id) => hear(id, true)}
            onOpen={(id) => void navigate(`/normalize/${id}`)}
            onEnd={onEnd}
          />
        )}
      </div>
      <aside
        aria-label="The chosen phrase"
        className="flex w-[262px] flex-none flex-col gap-3 border-l border-rule p-4 middling:w-[232px] middling:p-3"
      >
        {selected ? (
          <PhraseTicket
            phrase={selected}
            onListen={() => hear(selected.id, true)}
            onPut={(chosen) => put.mutate(chosen)}
            onPlayInto={playInto}
            onSetAside={setAside}
            onBringBack={bringBack}
          />
        ) : (
          <p className="flex-1 text-muted">Choose a phrase to see what it is.</p>
        )}
        <BatchDialog open={forBatch !== null} phraseIds={forBatch ?? []} onClose={() => setForBatch(null)} />
        <BasketBox onPut={() => selected && put.mutate([selected])} disabled={!selected || put.isPending} />
      </aside>
    </>
  );
}

function NothingFound({ isEmpty, onClear }: { isEmpty: boolean; onClear: () => void }) {
  if (isEmpty) return <FirstSteps />;
  return (
    <EmptyState title="No phrase fits all of this" action={<Button onClick={onClear}>Show all</Button>}>
      Take away a word or a mark at the left.
    </EmptyState>
  );
}
