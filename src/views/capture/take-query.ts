import { useCallback, useMemo } from 'react';
import { useSearchParams } from 'react-router';
import type { Order } from '../../ui/table/columns.ts';

/** What the list of takes can be narrowed to, and in which order it stands, with their words. */
export const FILTER_WORDS = {
  all: 'all takes',
  waiting: 'no phrase yet',
  used: 'with phrases',
  recorded: 'recorded live',
  warned: 'something looks wrong',
  aside: 'set aside',
} as const;

/** The orders the list of takes can stand in (`server/library/takes/take-list`), in words, and whether the most come first. */
export const TAKE_ORDERS = {
  newest: { words: 'newest first', mostFirst: true },
  name: { words: 'by name', mostFirst: false },
  parts: { words: 'most parts first', mostFirst: true },
  notes: { words: 'most notes first', mostFirst: true },
  bars: { words: 'most bars first', mostFirst: true },
  length: { words: 'longest first', mostFirst: true },
  tempo: { words: 'by tempo', mostFirst: false },
  phrases: { words: 'most phrases first', mostFirst: true },
  source: { words: 'by source', mostFirst: false },
} as const;

type TakeOrder = keyof typeof TAKE_ORDERS;

const isOrder = (id: string): id is TakeOrder => id in TAKE_ORDERS;

/** The order as a table shows it. */
export function orderOf({ get }: Pick<TakeQueryState, 'get'>): Order {
  const asked = get('sort');
  const id = isOrder(asked) ? asked : 'newest';
  return { id, desc: TAKE_ORDERS[id].mostFirst !== (get('turned') === '1') };
}

/** What the address says of an order; nothing for none. */
export function orderParams(order: Order | null): { sort: string; turned: string } {
  if (!order || !isOrder(order.id)) return { sort: '', turned: '' };
  return { sort: order.id, turned: order.desc === TAKE_ORDERS[order.id].mostFirst ? '' : '1' };
}

export type TakeParam = 'search' | 'source' | 'filter' | 'sort' | 'turned';

/** The query in the address: it survives a reload, and the back button takes it back. */
export function useTakeQuery() {
  const [params, setParams] = useSearchParams();
  const setAll = useCallback(
    (values: Partial<Record<TakeParam, string>>) =>
      setParams(
        (old) => {
          const next = new URLSearchParams(old);
          for (const [name, value] of Object.entries(values)) {
            if (value) next.set(name, value);
            else next.delete(name);
          }
          return next;
        },
        { replace: 'search' in values },
      ),
    [setParams],
  );
  return {
    query: useMemo(() => params.toString(), [params]),
    get: (name: TakeParam) => params.get(name) ?? '',
    set: useCallback((name: TakeParam, value: string) => setAll({ [name]: value }), [setAll]),
    setAll,
    clear: useCallback(() => setParams({}), [setParams]),
  };
}

export type TakeQueryState = ReturnType<typeof useTakeQuery>;
