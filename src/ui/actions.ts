import { useEffect, useRef } from 'react';
import { useShortcuts, type Shortcuts } from './shortcuts.ts';

/** Something that can be done now: by its keys, from the palette, and told on the sheet of shortcuts. */
export interface Action {
  title: string;
  /** Key presses that do it, such as "Ctrl+z"; the first is shown. */
  keys?: readonly string[];
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

/** Offers actions for as long as the component is shown. */
export function useActions(name: string, actions: readonly Action[]): void {
  const current = useRef<ActionGroup>({ name, actions });
  current.current = { name, actions };
  useEffect(() => {
    const ask = () => current.current;
    registered.add(ask);
    return () => void registered.delete(ask);
  }, []);
  const shortcuts: Shortcuts = {};
  for (const { keys = [], run } of actions) for (const key of keys) shortcuts[key] = run;
  useShortcuts(shortcuts);
}

/** A key press as people read it: "Ctrl+ArrowUp" becomes "Ctrl Up". */
export function keyWords(key: string): string {
  return key
    .split(/(?<=.)\+/)
    .map((part) =>
      part === ' '
        ? 'Space'
        : part.startsWith('Arrow')
          ? part.slice(5)
          : part.length === 1
            ? part.toUpperCase()
            : part,
    )
    .join(' ');
}
