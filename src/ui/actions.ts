import { group } from 'd3-array';
import { useEffect, useRef } from 'react';
import { useShortcuts, type Shortcuts } from './shortcuts.ts';

/** Something that can be done now: by its keys, from the palette, and told on the sheet of shortcuts. */
export interface Action {
  title: string;
  /** Key presses that do it, such as "Ctrl+z"; the first is shown. */
  keys?: readonly string[];
  /** Further words by which the palette finds it: what people call it who do not know its title. */
  words?: string;
  run: () => void;
}

export interface ActionGroup {
  /** Where it works, such as "Library". */
  name: string;
  actions: readonly Action[];
}

/** Groups of the views on the screen, each asked when the palette or the sheet opens. */
const registered = new Set<() => ActionGroup>();

/** What can be done now, the view's own first. */
export function currentActions(): ActionGroup[] {
  return [...registered].map((group) => group()).reverse();
}

/** Key presses that would do several things at once, with the titles of what they would do: one key, one meaning. */
export function conflictsIn(groups: readonly ActionGroup[]): { key: string; titles: string[] }[] {
  const meanings = groups.flatMap(({ name, actions }) =>
    actions.flatMap(({ title, keys = [] }) => keys.map((key) => ({ key, title: `${name}: ${title}` }))),
  );
  return [...group(meanings, ({ key }) => key)].flatMap(([key, all]) =>
    all.length > 1 ? [{ key, titles: all.map(({ title }) => title) }] : [],
  );
}

/** Offers actions for as long as the component is shown. */
export function useActions(name: string, actions: readonly Action[]): void {
  const current = useRef<ActionGroup>({ name, actions });
  current.current = { name, actions };
  useEffect(() => {
    const ask = () => current.current;
    registered.add(ask);
    for (const { key, titles } of conflictsIn(currentActions()))
      console.error(`The key ${keyWords(key)} has several meanings: ${titles.join('; ')}`);
    return () => void registered.delete(ask);
  }, []);
  const shortcuts: Shortcuts = {};
  for (const { keys = [], run } of actions) for (const key of keys) shortcuts[key] = run;
  useShortcuts(shortcuts);
}

/** A key press as people read it: "Ctrl+ArrowUp" becomes "Ctrl Up", "R" becomes "Shift R". */
export function keyWords(key: string): string {
  return key
    .split(/(?<=.)\+/)
    .map((part, _, all) => {
      if (part === ' ') return 'Space';
      if (part.startsWith('Arrow')) return part.slice(5);
      const isShifted = all.length === 1 && /^\p{Lu}$/u.test(part);
      return isShifted ? `Shift ${part}` : part.length === 1 ? part.toUpperCase() : part;
    })
    .join(' ');
}
