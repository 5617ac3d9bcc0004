import type { ReactNode } from 'react';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';

/** A column of a table: what stands in it, and what its rows are ordered by. */
export interface Column<Row> {
  id: string;
  /** Its name, over it and where columns are chosen. */
  title: string;
  /** What stands over it instead of its name, such as a box that ticks all. */
  head?: ReactNode;
  /** More about it, for who rests on its name. */
  hint?: string;
  cell: (row: Row) => ReactNode;
  /** What rows are ordered by; without it the column orders nothing. Null stands last, either way. */
  value?: (row: Row) => string | number | null;
  /** The first press orders from the most to the least. */
  mostFirst?: boolean;
  /** Figures stand at the right, under each other. */
  isFigure?: boolean;
  className?: string;
  /** Nobody looks for a table without it. */
  stays?: boolean;
}

/** By which column rows stand, and whether from the most to the least. */
export interface Order {
  id: string;
  desc: boolean;
}

/** Columns that are not shown, by the table they are of; a choice of this browser. */
export const useHiddenColumns = create<{ hidden: Readonly<Record<string, readonly string[]>> }>()(
  persist(() => ({ hidden: {} }), { name: 'hidden columns' }),
);

export function showColumn(table: string, id: string, isShown: boolean): void {
  const { hidden } = useHiddenColumns.getState();
  const others = (hidden[table] ?? []).filter((one) => one !== id);
  useHiddenColumns.setState({ hidden: { ...hidden, [table]: isShown ? others : [...others, id] } });
}
