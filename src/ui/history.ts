import { useCallback, useState } from 'react';

interface Entry<Value> {
  value: Value;
  /** What led to this value, in words. */
  label: string;
  at: number;
}

/** Changes of one kind within this time are one: typing a number is not three steps. In milliseconds. */
const ONE_CHANGE = 900;

/**
 * A value with its past: what was changed is named, can be taken back and done again. `unsaved` is a change that
 * was made before, such as before a reload.
 */
export function useHistory<Value>(initial: Value, unsaved?: { value: Value; label: string }) {
  const [state, setState] = useState<{ entries: Entry<Value>[]; at: number }>(() => {
    const first = { value: initial, label: '', at: 0 };
    return unsaved ? { entries: [first, { ...unsaved, at: 0 }], at: 1 } : { entries: [first], at: 0 };
  });
  const set = useCallback((change: (now: Value) => Value, label: string) => {
    const time = Date.now();
    setState(({ entries, at }) => {
      const now = entries[at]!;
      const goesOn = at > 0 && at === entries.length - 1 && now.label === label && time - now.at < ONE_CHANGE;
      const past = entries.slice(0, goesOn ? at : at + 1);
      return { entries: [...past, { value: change(now.value), label, at: time }], at: past.length };
    });
  }, []);
  const undo = useCallback(() => setState((now) => ({ ...now, at: Math.max(0, now.at - 1) })), []);
  const redo = useCallback(
    () => setState((now) => ({ ...now, at: Math.min(now.entries.length - 1, now.at + 1) })),
    [],
  );
  /** The same change to every state, past and undone ones too: what comes from elsewhere is no step of ours. */
  const mapAll = useCallback(
    (change: (value: Value) => Value) =>
      setState(({ entries, at }) => ({
        entries: entries.map((entry) => ({ ...entry, value: change(entry.value) })),
        at,
      })),
    [],
  );
  return {
    value: state.entries[state.at]!.value,
    undoes: state.at > 0 ? state.entries[state.at]!.label : undefined,
    redoes: state.entries[state.at + 1]?.label,
    set,
    undo,
    redo,
    mapAll,
  };
}
