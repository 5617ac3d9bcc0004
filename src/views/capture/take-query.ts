import { useCallback, useMemo } from 'react';
import { useSearchParams } from 'react-router';

/** What the list of takes can be narrowed to, and in which order it stands, with their words. */
export const FILTER_WORDS = {
  all: 'all takes',
  waiting: 'no phrase yet',
  used: 'with phrases',
  recorded: 'recorded live',
  warned: 'something looks wrong',
  aside: 'set aside',
} as const;

export const SORT_WORDS = {
  newest: 'newest first',
  name: 'by name',
  notes: 'most notes first',
  bars: 'longest first',
  tempo: 'by tempo',
  source: 'by source',
} as const;

export type TakeParam = 'search' | 'source' | 'filter' | 'sort';

/** The query in the address: it survives a reload, and the back button takes it back. */
export function useTakeQuery() {
  const [params, setParams] = useSearchParams();
  const set = useCallback(
    (name: TakeParam, value: string) =>
      setParams(
        (old) => {
          const next = new URLSearchParams(old);
          if (value) next.set(name, value);
          else next.delete(name);
          return next;
        },
        { replace: name === 'search' },
      ),
    [setParams],
  );
  return {
    query: useMemo(() => params.toString(), [params]),
    get: (name: TakeParam) => params.get(name) ?? '',
    set,
    clear: useCallback(() => setParams({}), [setParams]),
  };
}

export type TakeQueryState = ReturnType<typeof useTakeQuery>;
