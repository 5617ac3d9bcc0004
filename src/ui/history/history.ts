import equal from 'fast-deep-equal';
import { useCallback, useEffect } from 'react';
import { create } from 'zustand';
import type { Merged } from '../../core/merge/three-way.ts';
import { didDeed, doAgain, forgetDeeds, lastDone, nextUndone, takeBack, useDeeds } from './deeds.ts';

interface State {
  value: unknown;
  /** What is kept on the server, as far as the value knows of it. */
  base: unknown;
  /** The last change and when it was made: more of the same goes on with it. */
  label: string;
  at: number;
}

/** Values under edit by what they are of. They outlast their view: going away and coming back loses nothing. */
const useEdited = create<Record<string, State>>(() => ({}));

/** Changes of one kind within this time are one: typing a number is not three steps. In milliseconds. */
const ONE_CHANGE = 900;

function patch(source: string, change: Partial<State>): void {
  useEdited.setState((all) => ({ [source]: { ...all[source]!, ...change } }));
}

/** Shows a value without making it a change of its own. */
function show(source: string, value: unknown): void {
  patch(source, { value, label: '', at: 0 });
}

/**
 * A value under edit, each change of it a deed: named, taken back and done again. `source` says what it is of, `path` where it
 * is seen. `unsaved` is a change that was made before, such as before a reload.
 */
export function useHistory<Value>(
  source: string,
  initial: Value,
  path: string,
  unsaved?: { value: Value; base: Value; label: string },
) {
  const first = unsaved?.value ?? initial;
  const state = useEdited((all) => all[source]);
  const value = (state ? state.value : first) as Value;
  const did = useCallback(
    (before: Value, after: Value, what: string) =>
      didDeed({ what, source, path, undo: () => show(source, before), redo: () => show(source, after) }),
    [source, path],
  );
  /** The state, begun where this is the first that is done. */
  const begun = useCallback((): State => {
    const there = useEdited.getState()[source];
    if (there) return there;
    const fresh = { value: first, base: unsaved?.base ?? initial, label: '', at: 0 };
    useEdited.setState({ [source]: fresh });
    if (unsaved) did(unsaved.base, unsaved.value, unsaved.label);
    return fresh;
  }, [source, first, initial, unsaved, did]);
  useEffect(() => void begun(), [begun]);

  const set = useCallback(
    (change: (now: Value) => Value, label: string) => {
      const old = begun();
      const after = change(old.value as Value);
      const at = Date.now();
      const last = lastDone();
      const goesOn = last?.source === source && old.label === label && at - old.at < ONE_CHANGE;
      if (goesOn) last.redo = () => show(source, after);
      else did(old.value as Value, after, label);
      patch(source, { value: after, label, at });
    },
    [begun, did, source],
  );
  /** The same change to every state, past and undone ones too: what comes from elsewhere is no step of ours. */
  const mapAll = useCallback(
    (change: (value: Value) => Value) => {
      const mapped = (run: () => unknown) => () => {
        run();
        show(source, change(useEdited.getState()[source]!.value as Value));
      };
      const { done, undone } = useDeeds.getState();
      for (const deed of [...done, ...undone]) {
        if (deed.source !== source) continue;
        deed.undo = mapped(deed.undo);
        if (deed.redo) deed.redo = mapped(deed.redo);
      }
      show(source, change(begun().value as Value));
    },
    [begun, source],
  );
  /** What is kept is now this, and this is shown: it was saved here, or theirs was taken. */
  const settle = useCallback(
    (kept: Value) => {
      begun();
      patch(source, { value: kept, base: kept, label: '', at: 0 });
    },
    [begun, source],
  );
  /** Goes on with what is shown, over what is kept now. */
  const rebase = useCallback(
    (kept: Value) => {
      begun();
      patch(source, { base: kept });
    },
    [begun, source],
  );
  return {
    value,
    base: (state ? state.base : (unsaved?.base ?? initial)) as Value,
    undoes: useDeeds(({ done }) => done.findLast((deed) => deed.source === source)?.what),
    redoes: useDeeds(({ undone }) => undone.findLast((deed) => deed.source === source)?.what),
    set,
    undo: useCallback(() => void takeBack(lastDone(source)), [source]),
    redo: useCallback(() => void doAgain(nextUndone(source)), [source]),
    mapAll,
    settle,
    rebase,
  };
}

/**
 * Lets a history follow what is kept on the server: where nothing is unsaved, it shows the newest. True where somebody else
 * has changed the same as is changed here: one of both has to be chosen. What touches other things is put together.
 */
export function useFollowed<Value>(
  { value, base, settle, rebase, mapAll }: ReturnType<typeof useHistory<Value>>,
  source: string,
  kept: Value,
  merge: (base: Value, mine: Value, theirs: Value) => Merged<Value>,
  { savesItself = false }: { savesItself?: boolean } = {},
): boolean {
  const changedThere = !equal(base, kept);
  const isUnsaved = !equal(value, base);
  const isSame = equal(value, kept);
  // What saves itself has nothing unsaved for long: what was done before stays to be taken back, under what they did.
  const isMerged =
    changedThere && !isSame && (isUnsaved || savesItself) && merge(base, value, kept).both === null;
  useEffect(() => {
    if (!changedThere) return;
    if (isSame) rebase(kept);
    else if (isMerged) {
      // What is taken back later, too, has what they did.
      mapAll((mine) => merge(base, mine, kept).value ?? mine);
      rebase(kept);
    } else if (!isUnsaved) {
      settle(kept);
      forgetDeeds(source);
    }
  }, [changedThere, isSame, isUnsaved, isMerged, base, kept, mapAll, merge, rebase, settle, source]);
  return changedThere && isUnsaved && !isSame && !isMerged;
}
