import { useState } from 'react';
import { useChoosing } from '../shared/choosing.ts';
import type { BasketItem } from './editing.ts';

/** The phrase that is looked at, and those that are chosen beside it. */
export function useSelection(items: readonly BasketItem[]) {
  const { chosen, choose, chooseAll, chooseNone } = useChoosing(items);
  const [selectedId, select] = useState<string>();
  const selected = items.find((item) => item.id === selectedId) ?? items[0];
  const there = items.filter(({ id }) => chosen.has(id)).map(({ id }) => id);
  return {
    selected,
    chosen,
    /** Of what is to be done something with: the chosen ones, else the one that is looked at. */
    ids: new Set(there.length > 0 ? there : selected ? [selected.id] : []),
    select,
    chooseAll,
    chooseNone,
    choose: (id: string, others: boolean) => {
      choose(id, others ? selected?.id : undefined);
      select(id);
    },
    /** Goes so many phrases on, choosing what lies between where it stretches. @returns the one that is looked at then */
    step: (by: number, stretches: boolean): string | undefined => {
      const at = items.findIndex(({ id }) => id === selected?.id);
      const next = items[Math.min(Math.max(0, at + by), items.length - 1)];
      if (!next) return undefined;
      if (stretches) choose(next.id, selected?.id);
      select(next.id);
      return next.id;
    },
  };
}
