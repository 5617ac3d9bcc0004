import { useEffect } from 'react';
import { create } from 'zustand';

/** Something that was done in this window, wherever it was: it can be taken back, and done again. */
export interface Deed {
  /** In words, such as "keeping the loop"; with "take back" before it, it says what will happen. */
  what: string;
  /** What it was done to, such as "take 123": a view takes back its own by it. */
  source: string;
  /** The address at which it is seen; taking it back from elsewhere goes there. Left out, it is done unseen. */
  path?: string;
  /** When, in milliseconds. */
  at: number;
  undo: () => unknown;
  /** Left out where it cannot be done again. */
  redo?: (() => unknown) | undefined;
}

interface Log {
  /** Oldest first. */
  done: readonly Deed[];
  /** Taken back, the last of them last. */
  undone: readonly Deed[];
}

/** What was done in this window since it was opened. */
export const useDeeds = create<Log>(() => ({ done: [], undone: [] }));

/** Deeds that are remembered. */
const MOST = 500;

/** Puts a deed into the log. What had been taken back and is about the same can no longer be done again. */
export function didDeed(deed: Omit<Deed, 'at'>): Deed {
  const entry = { ...deed, at: Date.now() };
  useDeeds.setState(({ done, undone }) => ({
    done: [...done, entry].slice(-MOST),
    undone: undone.filter(({ source }) => source !== deed.source),
  }));
  return entry;
}

/** The last deed of a source that was done, or of all. */
export function lastDone(source?: string): Deed | undefined {
  return useDeeds.getState().done.findLast((deed) => source === undefined || deed.source === source);
}

/** The deed of a source that would be done again next, or of all. */
export function nextUndone(source?: string): Deed | undefined {
  return useDeeds.getState().undone.findLast((deed) => source === undefined || deed.source === source);
}

/** Takes a deed back: the last where none is given. Answers it; undefined where there is none. */
export function takeBack(deed = lastDone()): Deed | undefined {
  if (!deed || !useDeeds.getState().done.includes(deed)) return undefined;
  useDeeds.setState(({ done, undone }) => ({
    done: done.filter((one) => one !== deed),
    undone: deed.redo ? [...undone, deed] : undone,
  }));
  void deed.undo();
  return deed;
}

/** Does again what was taken back last, or the given deed. */
export function doAgain(deed = nextUndone()): Deed | undefined {
  if (!deed || !useDeeds.getState().undone.includes(deed)) return undefined;
  useDeeds.setState(({ done, undone }) => ({
    done: [...done, deed],
    undone: undone.filter((one) => one !== deed),
  }));
  void deed.redo?.();
  return deed;
}

/** Forgets the deeds of a source: what they would take back is no longer there. */
export function forgetDeeds(source: string): void {
  useDeeds.setState(({ done, undone }) => ({
    done: done.filter((deed) => deed.source !== source),
    undone: undone.filter((deed) => deed.source !== source),
  }));
}

/** What can be taken back and done again, in words, and the way to do it. */
export interface UndoHistory {
  undoes: string | undefined;
  redoes: string | undefined;
  undo: () => unknown;
  redo: () => unknown;
}

/** Histories of the views on the screen that reach farther back than this window: a take's moves. */
const kept = new Set<() => UndoHistory>();

/** Offers what was done before this window was opened, for as long as the component is shown. */
export function useKeptHistory(history: () => UndoHistory): void {
  useEffect(() => {
    kept.add(history);
    return () => void kept.delete(history);
  }, [history]);
}

/** The history of the view on the screen, for when nothing was done in this window. */
export function keptHistory(): UndoHistory | undefined {
  return [...kept].at(-1)?.();
}
