import { useLayoutEffect, useRef } from 'react';

/** Keys and what they do, such as { ' ': play, 'Ctrl+z': undo }. */
export type Shortcuts = Record<string, (event: KeyboardEvent) => void>;

/** Name of a key press: modifiers in a fixed order, then the key. Command counts as Ctrl. */
function nameOf(event: KeyboardEvent): string {
  const { key } = event;
  return [
    event.ctrlKey || event.metaKey ? 'Ctrl' : '',
    event.altKey ? 'Alt' : '',
    // Shift is part of a character; it is told for keys that are none, and for letters beside another modifier.
    event.shiftKey &&
    (key.length > 1 || ((event.ctrlKey || event.metaKey || event.altKey) && /[a-z]/i.test(key)))
      ? 'Shift'
      : '',
    key.length === 1 && (event.ctrlKey || event.metaKey || event.altKey) ? key.toLowerCase() : key,
  ]
    .filter(Boolean)
    .join('+');
}

/** What a text field does itself beside taking characters: clipboard, its own undo, going about in it. */
const EDITS_TEXT = /^Ctrl\+(Shift\+)?([acvxyz]|Arrow.+|Home|End|Backspace|Delete|Enter)$/;

/** Whether the key belongs to what has the focus: text being typed, or a control that takes this key itself. */
function isTaken(event: KeyboardEvent): boolean {
  const target = event.target instanceof HTMLElement ? event.target : null;
  if (!target) return false;
  if (target.closest('[role=dialog], [role=menu]')) return true;
  // A list that tells its current option has no keys of its own: its view goes through it.
  if (target.closest('[role=listbox]:not([aria-activedescendant])')) return true;
  if (takesText(target)) {
    const name = nameOf(event);
    return !name.startsWith('Ctrl+') || EDITS_TEXT.test(name);
  }
  const isControl = target.closest('button, summary, input, [role=slider]') !== null;
  if (isControl && (event.key === ' ' || event.key === 'Enter')) return true;
  // A link is opened by Enter alone: who came by one listens by Space at once.
  if (event.key === 'Enter' && target.closest('a')) return true;
  return (
    target.closest('[role=slider], input[type=range], input[type=radio]') !== null &&
    event.key.startsWith('Arrow')
  );
}

const WITHOUT_TEXT = new Set(['checkbox', 'radio', 'range']);

function takesText(target: HTMLElement): boolean {
  if (target instanceof HTMLInputElement) return !WITHOUT_TEXT.has(target.type);
  return target instanceof HTMLTextAreaElement || target instanceof HTMLSelectElement;
}

/** Listens for keys anywhere in the view while it is shown, except where something else has a use for them. */
export function useShortcuts(shortcuts: Shortcuts): void {
  const current = useRef(shortcuts);
  current.current = shortcuts;
  // Before the view is painted: who sees it can press its keys.
  useLayoutEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const action = current.current[nameOf(event)];
      if (!action || event.defaultPrevented || isTaken(event)) return;
      event.preventDefault();
      action(event);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
}
