import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useQuery } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { offer, usePlayer } from '../../sound/player.ts';
import { Button } from '../../ui/Button.tsx';
import { usePlace } from '../../ui/history/place.ts';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { request } from '../api/client.ts';
import { phraseQuery, tellProblem, useProjects } from '../api/queries.ts';
import { useChoosing } from '../shared/choosing.ts';
import { usePutIntoBasket } from '../shared/current-basket.ts';
import { BatchDialog } from '../shared/batch/BatchDialog.tsx';
import type { ChosenPhrases } from '../shared/batch/start.ts';
import { useFacets, useFilter, usePhraseList } from '../shared/phrases/filter.ts';
import { phraseListening } from '../shared/phrases/listening.ts';
import { tagged, useTellPhrases } from '../shared/phrases/many.ts';
import { setAsideOf } from '../shared/phrases/state.ts';
import { useCurrentProject } from '../shared/project.ts';
import { DragPhrases, DropPlace } from './list/DragPhrases.tsx';
import { Facets } from './finding/Facets.tsx';
import { FirstSteps } from './FirstSteps.tsx';
import { useLibraryActions } from './library-actions.ts';
import { ManyBar } from './list/ManyBar.tsx';
import { PhraseList } from './list/PhraseList.tsx';
import { PinsBox } from './PinsBox.tsx';
import { BasketBox, PhraseTicket } from './list/PhraseTicket.tsx';
import { SearchBar } from './finding/SearchBar.tsx';
import { TagsDialog } from './list/TagsDialog.tsx';
import { useBrowsing, useFetchedAhead } from '../shared/phrases/browsing.ts';

/** The library: narrowed at the left, gone through by ear in the middle, told at the right. */
export default function LibraryView() {
  const filter = useFilter();
  const navigate = useNavigate();
  const search = useRef<HTMLInputElement>(null);
  const project = useCurrentProject();
  const pins = usePlayer((player) => player.pins);
  const pinIds = pins.flatMap(({ phraseId }) => phraseId ?? []);
  const { isPending } = useProjects();
  const list = usePhraseList(filter.query, { projectId: project?.id, pins, isKnown: !isPending });
  const { data: counts } = useFacets(filter.query);
  const phrases = useMemo(() => list.data?.pages.flatMap((page) => page.phrases) ?? [], [list.data]);
  const [selectedId, setSelectedId] = usePlace<string | undefined>('row of phrases', undefined);
  const selected = phrases.find(({ id }) => id === selectedId) ?? phrases[0];
  const sounding = usePlayer((player) => (player.state === 'playing' ? player.listening?.id : undefined));
  const { data: detail } = useQuery({ ...phraseQuery(selected?.id ?? ''), enabled: selected !== undefined });
  useEffect(() => {
    if (detail) offer(phraseListening(detail));
  }, [detail]);
  const put = usePutIntoBasket();
  const { hear, hearNext, hearBefore } = useBrowsing();
  useFetchedAhead(
    phrases.map(({ id }) => id),
    selected?.id,
  );
  const waiting = usePlayer((player) => player.waiting);
  const select = (id: string) => {
    setSelectedId(id);
    hearNext(id);
  };
  const choosing = useChoosing(phrases);
  const chosenIds = [...choosing.chosen];
  const [editsTags, setEditsTags] = useState(false);
  /** What a recipe is chosen for. */
  const [forRecipe, setForRecipe] = useState<{ phrases: ChosenPhrases; count: number } | null>(null);
  const allIds = () => request<{ phraseIds: string[] }>(`/api/phrases/ids?${filter.query}`);
  const openBatch = () => setForRecipe({ phrases: { filter: filter.query }, count: counts?.total ?? 0 });
  const chooseFound = () =>
    void allIds().then(({ phraseIds }) => choosing.chooseThese(phraseIds), tellProblem);
  useLibraryActions({
    editTags: () => setEditsTags(true),
    ...{ filter, phrases, selected, select, hear, hearBefore, choosing, chooseFound, openBatch },
    put: (some) => put.mutate([...some]),
    search: () => search.current?.focus(),
  });
  const { fetchNextPage, hasNextPage, isFetchingNextPage } = list;
  const onEnd = useCallback(() => {
    if (hasNextPage && !isFetchingNextPage) void fetchNextPage();
  }, [fetchNextPage, hasNextPage, isFetchingNextPage]);

  const tell = useTellPhrases();
  const putIds = (ids: readonly string[]) =>
    put.mutate(ids.map((id) => ({ id, name: phrases.find((one) => one.id === id)?.name ?? 'a phrase' })));

  return (
    <DragPhrases
      chosen={choosing.chosen}
      onBasket={putIds}
      onTag={(ids, tag) => tell.mutate(tagged(ids, [tag]))}
    >
      <aside
        aria-label="Narrow the list"
        className="w-[196px] flex-none overflow-auto border-r border-rule px-4 py-3 middling:w-[164px] middling:px-2"
      >
        <Facets counts={counts} filter={filter} onTags={() => setEditsTags(true)} />
        {editsTags && <TagsDialog onClose={() => setEditsTags(false)} />}
      </aside>
      <div className="flex min-w-0 flex-1 flex-col px-4 pt-3">
        <SearchBar
          filter={filter}
          search={search}
          total={counts?.total}
          hasProject={project !== undefined}
          onBatch={openBatch}
        />
        {chosenIds.length > 0 && (
          <ManyBar
            ids={chosenIds}
            total={counts?.total ?? 0}
            onAll={chooseFound}
            onPut={() => putIds(chosenIds)}
            onRecipe={() => setForRecipe({ phrases: { phraseIds: chosenIds }, count: chosenIds.length })}
            onAside={() =>
              void setAsideOf(chosenIds.map((id) => ({ id, name: 'a phrase' }))).then(
                choosing.chooseNone,
                tellProblem,
              )
            }
            onNone={choosing.chooseNone}
          />
        )}
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
            stateOf={(id) => ({
              isSelected: id === selected?.id,
              isChosen: choosing.chosen.has(id),
              isSounding: sounding === `phrase ${id}`,
              waits: waiting === `phrase ${id}`,
              isPinned: pinIds.includes(id),
            })}
            onSelect={select}
            onChoose={(id, others) => {
              choosing.choose(id, others ? selected?.id : undefined);
              setSelectedId(id);
            }}
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
            project={project?.name}
            onListen={() => hear(selected.id, true)}
            onHear={(id) => hear(id, false)}
            onPut={(chosen) => put.mutate(chosen)}
          />
        ) : (
          <p className="flex-1 text-muted">Choose a phrase to see what it is.</p>
        )}
        <BatchDialog
          open={forRecipe !== null}
          phrases={forRecipe?.phrases ?? { phraseIds: [] }}
          count={forRecipe?.count ?? 0}
          onClose={() => setForRecipe(null)}
        />
        <PinsBox />
        <DropPlace>
          <BasketBox onPut={() => selected && put.mutate([selected])} disabled={!selected || put.isPending} />
        </DropPlace>
      </aside>
    </DragPhrases>
  );
}

function NothingFound({ isEmpty, onClear }: { isEmpty: boolean; onClear: () => void }) {
  if (isEmpty) return <FirstSteps />;
  return (
    <EmptyState title="No phrase fits all of this" action={<Button onClick={onClear}>Show all</Button>}>
      Take away a word or a mark, or untick something at the left.
    </EmptyState>
  );
}
