import { useCallback, useState } from 'react';

/** Several rows of a list that are chosen: one by one, from one to another, or all that are loaded. */
export function useChoosing(rows: readonly { id: string }[]) {
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  return {
    chosen,
    /** Chooses a row, or not any more; with `from`, every row from that one to it. */
    choose: (id: string, from?: string) =>
      setChosen((now) => {
        const next = new Set(now);
        const [start, end] = [
          rows.findIndex((row) => row.id === from),
          rows.findIndex((row) => row.id === id),
        ];
        if (start >= 0)
          for (const row of rows.slice(Math.min(start, end), Math.max(start, end) + 1)) next.add(row.id);
        else if (!next.delete(id)) next.add(id);
        return next;
      }),
    /** All that are loaded, or none where all are. */
    chooseAll: () =>
      setChosen((now) =>
        rows.length > 0 && rows.every(({ id }) => now.has(id))
          ? new Set()
          : new Set(rows.map(({ id }) => id)),
      ),
    chooseThese: useCallback((ids: readonly string[]) => setChosen(new Set(ids)), []),
    chooseNone: useCallback(() => setChosen((now) => (now.size > 0 ? new Set() : now)), []),
  };
}
