import { v4 as newId } from 'uuid';
import type { OwnOut } from '../../core/exchange/own-out.ts';
import { plural } from '../../core/words.ts';
import { moved, withHeading, withOwn } from './edit.ts';
import type { useBasketEditing } from './editing.ts';
import type { useSelection } from './selection.ts';

/** What a new heading says until somebody says something else. */
const NEW_HEADING = 'Heading';

/** What is done to the rows of a basket: each is one change under its history. */
export function useRowEditing(
  { edit: { rows }, items, setRows }: ReturnType<typeof useBasketEditing>,
  { selected, ids, select, chooseNone }: ReturnType<typeof useSelection>,
) {
  const nameOf = (id: string) =>
    rows.find((row) => row.id === id)?.heading ?? items.find((item) => item.id === id)?.name ?? '';
  const words = (some: ReadonlySet<string>) =>
    some.size === 1 ? nameOf([...some][0]!) : plural(some.size, 'phrase');
  const without = (some: ReadonlySet<string>) =>
    setRows(
      rows.filter(({ id }) => !some.has(id)),
      `take out ${words(some)}`,
    );
  return {
    remove: (id: string) => without(new Set([id])),
    takeOut: () => {
      if (ids.size === 0) return;
      without(ids);
      chooseNone();
    },
    move: (by: 1 | -1) => {
      const next = moved(rows, ids, by);
      if (next.every((row, k) => row === rows[k])) return;
      // It stays the one that is looked at, wherever it goes.
      if (selected) select(selected.id);
      setRows(next, `order of ${words(ids)}`);
    },
    addHeading: () => {
      const heading = { id: newId(), heading: NEW_HEADING };
      const first = rows.find(({ id }) => ids.has(id));
      setRows(withHeading(rows, heading, first?.id), 'a heading');
      focusHeading(heading.id);
    },
    rename: (id: string, heading: string) =>
      setRows(
        rows.map((row) => (row.id === id ? { ...row, heading } : row)),
        `heading "${heading}"`,
      ),
    ownOf: (id: string): OwnOut => rows.find((row) => row.id === id)?.own ?? {},
    setOwn: (some: ReadonlySet<string>, own: OwnOut) =>
      setRows(withOwn(rows, some, own), `how ${words(some)} leaves`),
  };
}

/** A heading that was made is named at once. */
function focusHeading(id: string): void {
  setTimeout(() => document.getElementById(`heading-${id}`)?.querySelector('input')?.select());
}
