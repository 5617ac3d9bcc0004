import { useCallback, useMemo } from 'react';
import { useSearchParams } from 'react-router';
import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import type { FacetCounts, PhraseListItem } from '../../../server/library/search.ts';
import { request } from '../../api/client.ts';

/** Facets as they stand in the address. */
export const FACET_PARAMS = {
  roles: 'role',
  keys: 'key',
  meters: 'meter',
  bars: 'bars',
  tempos: 'tempo',
  tags: 'tag',
} as const;

/** Numerals that the changes have, as they stand in the address, and how they are told. */
const NUMERAL_PARAMS = { starts: 'begins on', ends: 'ends on', changes: 'goes' } as const;

export type FacetKey = keyof typeof FACET_PARAMS;

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
    (facet: FacetKey, value: string) =>
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
  const clear = useCallback(() => setParams({}), [setParams]);
  return {
    query: useMemo(() => params.toString(), [params]),
    text: params.get('text') ?? '',
    has: (facet: FacetKey, value: string) => params.getAll(FACET_PARAMS[facet]).includes(value),
    isEmpty: params.size === 0,
    /** What is asked of the changes. */
    numerals: Object.entries(NUMERAL_PARAMS).flatMap(([param, words]) => {
      const value = params.get(param);
      return value ? [{ param, words: `${words} ${value.replace(' ', ' → ')}` }] : [];
    }),
    setText,
    toggle,
    remove,
    clear,
    /** Whether what was set aside is shown, instead of what is kept. */
    aside: params.has('aside'),
    setAside: useCallback(
      (on: boolean) =>
        setParams((old) => {
          const next = new URLSearchParams(old);
          if (on) next.set('aside', '1');
          else next.delete('aside');
          return next;
        }),
      [setParams],
    ),
  };
}

export type Filter = ReturnType<typeof useFilter>;

interface Page {
  phrases: PhraseListItem[];
  next: { name: string; id: string } | null;
}

/** Pages of the list, asked for as they are needed. */
export function usePhraseList(query: string) {
  return useInfiniteQuery({
    queryKey: ['phrases', query],
    initialPageParam: null as Page['next'],
    queryFn: ({ pageParam }) => {
      const params = new URLSearchParams(query);
      if (pageParam) {
        params.set('afterName', pageParam.name);
        params.set('afterId', pageParam.id);
      }
      return request<Page>(`/api/phrases?${params}`);
    },
    getNextPageParam: (page) => page.next,
    placeholderData: (old) => old,
  });
}

export function useFacets(query: string) {
  return useQuery({
    queryKey: ['facets', query],
    queryFn: () => request<FacetCounts>(`/api/phrases/facets?${query}`),
    placeholderData: (old) => old,
  });
}
