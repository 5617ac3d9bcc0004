import { useCallback, useMemo } from 'react';
import { useSearchParams } from 'react-router';
import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { FACET_PARAMS } from '../../../core/catalog/address.ts';
import type { FacetName } from '../../../core/catalog/catalog.ts';
import { besideInShort, besideOf } from '../../../core/catalog/beside.ts';
import type { FacetCounts, PhraseSort } from '../../../core/catalog/find.ts';
import { understood, type Mark } from '../../../core/catalog/understood.ts';
import { keyName } from '../../../core/music/key.ts';
import { plural } from '../../../core/words.ts';
import type { PhraseListItem } from '../../../server/library/phrases/search.ts';
import type { Pin } from '../../../sound/arrange.ts';
import { request } from '../../api/client.ts';

/** Numerals that the changes have, as they stand in the address, and how they are told. */
const NUMERAL_PARAMS = { starts: 'begins on', ends: 'ends on', changes: 'goes' } as const;

/** The filter in the address: it survives a reload, can be sent to somebody, and the back button takes it back. */
export function useFilter() {
  const [params, setParams] = useSearchParams();
  const setText = useCallback(
    (text: string) =>
      setParams(
        (old) => {
          const next = new URLSearchParams(old);
          if (text) next.set('text', text);
          else next.delete('text');
          return next;
        },
        { replace: true },
      ),
    [setParams],
  );
  const toggle = useCallback(
    (facet: FacetName, value: string) =>
      setParams((old) => {
        const next = new URLSearchParams(old);
        const name = FACET_PARAMS[facet];
        const values = next.getAll(name);
        next.delete(name);
        for (const other of values) if (other !== value) next.append(name, other);
        if (!values.includes(value)) next.append(name, value);
        return next;
      }),
    [setParams],
  );
  const remove = useCallback(
    (param: string) =>
      setParams((old) => {
        const next = new URLSearchParams(old);
        next.delete(param);
        return next;
      }),
    [setParams],
  );
  const setFlag = useCallback(
    (name: string, on: boolean) =>
      setParams((old) => {
        const next = new URLSearchParams(old);
        if (on) next.set(name, '1');
        else next.delete(name);
        return next;
      }),
    [setParams],
  );
  const sort = (params.get('sort') ?? 'name') as PhraseSort;
  const setSort = useCallback(
    (next: PhraseSort) =>
      setParams((old) => {
        const changed = new URLSearchParams(old);
        if (next === 'name') changed.delete('sort');
        else changed.set('sort', next);
        return changed;
      }),
    [setParams],
  );
  const open = useCallback((query: string) => setParams(new URLSearchParams(query)), [setParams]);
  const text = params.get('text') ?? '';
  const clear = useCallback(
    () =>
      setParams((old) => {
        const kept = old.get('sort');
        return new URLSearchParams(kept ? { sort: kept } : undefined);
      }),
    [setParams],
  );
  return {
    query: useMemo(() => params.toString(), [params]),
    text,
    /** What was understood of the words, each with the words without it. */
    marks: useMemo(
      () =>
        understood(text).marks.map(({ mark, words }) => ({
          title: markTitle(mark),
          words,
          without: text.replace(words, ' ').replace(/\s+/g, ' ').trim(),
        })),
      [text],
    ),
    sort,
    setSort,
    open,
    has: (facet: FacetName, value: string) => params.getAll(FACET_PARAMS[facet]).includes(value),
    isEmpty: [...params.keys()].every((name) => name === 'sort'),
    /** What is asked of the changes. */
    numerals: Object.entries(NUMERAL_PARAMS).flatMap(([param, words]) => {
      const value = params.get(param);
      return value ? [{ param, words: `${words} ${value.replaceAll(' ', ' → ')}` }] : [];
    }),
    setText,
    toggle,
    remove,
    clear,
    /** Whether what was set aside is shown, instead of what is kept. */
    aside: params.has('aside'),
    setAside: useCallback((on: boolean) => setFlag('aside', on), [setFlag]),
    /** Whether a key finds its relatives too. */
    relatives: params.has('relatives'),
    setRelatives: useCallback((on: boolean) => setFlag('relatives', on), [setFlag]),
  };
}

export type Filter = ReturnType<typeof useFilter>;

function markTitle(mark: Mark): string {
  switch (mark.kind) {
    case 'key':
      return keyName(mark.key);
    case 'tempo':
      return mark.to - mark.from > 1 ? `${mark.from} to ${mark.to} BPM` : `${(mark.from + mark.to) / 2} BPM`;
    case 'meter':
      return mark.meter;
    case 'bars':
      return plural(mark.bars, 'bar');
    case 'swing':
      return 'swings';
    case 'changes':
      return `goes ${mark.numerals.replaceAll(' ', ' → ')}`;
  }
}

interface Page {
  phrases: PhraseListItem[];
  total: number;
  /** Where the next page begins. */
  next: number | null;
}

/**
 * Pages of the list, asked for as they are needed; each phrase with how it suits a project beside what is pinned. Nothing is asked while
 * it is not known yet for which project: it would be asked twice.
 */
export function usePhraseList(
  filter: string,
  among: { projectId?: string; pins?: readonly Pin[]; isKnown?: boolean } = {},
) {
  const { projectId, pins = [], isKnown = true } = among;
  const pinsAsked = useMemo(() => pins.flatMap(pinAsked), [pins]);
  const asked = new URLSearchParams(filter);
  if (projectId) asked.set('suits', projectId);
  for (const [name, value] of pinsAsked) asked.append(name, value);
  const query = asked.toString();
  return useInfiniteQuery({
    queryKey: ['phrases', query],
    enabled: isKnown,
    initialPageParam: 0,
    queryFn: ({ pageParam }) => {
      const params = new URLSearchParams(query);
      if (pageParam > 0) params.set('offset', String(pageParam));
      return request<Page>(`/api/phrases?${params}`);
    },
    getNextPageParam: (page) => page.next,
    placeholderData: (old) => old,
  });
}

/** How a list is asked for what goes with a pin: a phrase by its id, a part of a take or a weave by where it plays. */
function pinAsked({ phraseId, clip }: Pin): [string, string][] {
  if (phraseId !== undefined) return [['pin', phraseId]];
  const part = besideOf(clip);
  return part ? [['beside', besideInShort(part)]] : [];
}

/** The order changes no counts. */
function counted(query: string): string {
  const params = new URLSearchParams(query);
  params.delete('sort');
  return params.toString();
}

export function useFacets(query: string) {
  return useQuery({
    queryKey: ['facets', counted(query)],
    queryFn: () => request<FacetCounts>(`/api/phrases/facets?${counted(query)}`),
    placeholderData: (old) => old,
  });
}
