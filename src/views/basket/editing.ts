import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import { useHistory } from '../../ui/history/history.ts';
import { forgetDeeds } from '../../ui/history/deeds.ts';
import { ApiProblem, sendJson } from '../api/client.ts';
import { takeOver, tellProblem, renew, type BasketWire } from '../api/queries.ts';
import { changesOf, editOf, rebased, type BasketEdit, type BasketRow } from './edit.ts';

export type BasketItem = BasketWire['items'][number];

/**
 * A basket under one history. The history is what is shown, and every change of it is written; what other
 * windows change, or what was shown before its newest state had come, is worked in beneath our changes.
 */
export function useBasketEditing(basket: BasketWire) {
  const client = useQueryClient();
  const key = useMemo(() => ['basket', basket.id], [basket.id]);
  const kept = useMemo(() => editOf(basket), [basket]);
  const history = useHistory<BasketEdit>(`basket ${basket.id}`, kept, `/handoff/${basket.id}`);
  const { value: edit, set, mapAll, settle } = history;
  const known = useRef(new Map<string, BasketItem>());
  for (const item of basket.items) known.current.set(item.id, item);
  /**
   * Whether a write is under way, and how many have ended. Known at once: what the library of queries tells of both reaches
   * the screen a moment later, and a key pressed within that moment would be held against what was.
   */
  const isWriting = useRef(false);
  const [ended, setEnded] = useState(0);
  const { mutate } = useMutation({
    mutationKey: key,
    scope: { id: `basket ${basket.id}` },
    // An answer that is still on its way knows nothing of this change.
    onMutate: () => client.cancelQueries({ queryKey: key }),
    mutationFn: (write: Write) => written(basket.id, write),
    onSuccess: (answer) => answer && takeOver(client, key, answer),
    onError: async (error, { changes }) => {
      const theirs = await client.fetchQuery<BasketWire>({ queryKey: key, staleTime: 0 }).catch(() => null);
      if (!theirs || !(error instanceof ApiProblem && error.status === 409)) return tellProblem(error);
      // Theirs is shown; ours is one click away.
      const now = editOf(theirs);
      base.current = now;
      settle(now);
      forgetDeeds(`basket ${basket.id}`);
      toast.error(error.message, {
        description: 'What stands there now is shown.',
        action: {
          label: 'Do it all the same',
          onClick: () => set((old) => ({ ...old, ...changes }), 'all the same'),
        },
      });
    },
    onSettled: () => {
      isWriting.current = false;
      setEnded((count) => count + 1);
      void renew('baskets');
    },
  });
  /** What the server has, as far as the history knows of it. */
  const base = useRef(kept);
  useEffect((): (() => void) | undefined => {
    // One write at a time, of all that differs: what changes meanwhile goes with the next.
    if (isWriting.current) return undefined;
    const old = base.current;
    const newest = client.getQueryData<BasketWire>(key);
    const theirs = newest ? editOf(newest) : undefined;
    if (theirs && Object.keys(changesOf(old, theirs)).length > 0) {
      // First what came from elsewhere. What is shown knows of it only after the next render, which comes here again:
      // written now, it would take back what came.
      base.current = theirs;
      mapAll((value) => rebased(old, value, theirs));
      return undefined;
    }
    const changes = writable(old, edit);
    if (Object.keys(changes).length === 0) return undefined;
    const write = () => {
      base.current = { ...edit, pattern: changes.pattern ?? old.pattern };
      isWriting.current = true;
      mutate({ changes, of: old });
    };
    // A pattern is typed letter by letter; everything else is written at once.
    if (changes.pattern === undefined) {
      write();
      return undefined;
    }
    const timer = setTimeout(write, 200);
    return () => clearTimeout(timer);
  }, [edit, kept, ended, client, key, mapAll, mutate]);
  useEffect(() => {
    // The page goes, and what waits for the write before it goes with it: a moment later nobody would be there to write it.
    // Rows and settings at once, for the same reason.
    const leave = () => {
      const { rows, ...settings } = writable(base.current, edit);
      void written(basket.id, { changes: settings, of: base.current });
      if (rows) void written(basket.id, { changes: { rows }, of: base.current });
    };
    addEventListener('pagehide', leave);
    return () => removeEventListener('pagehide', leave);
  }, [basket.id, edit]);
  return {
    ...history,
    edit,
    items: edit.rows.flatMap(({ id }) => known.current.get(id) ?? []),
    setRows: (rows: BasketRow[], label: string) => set((old) => ({ ...old, rows }), label),
    change: (change: Partial<BasketEdit>, label: string) => set((old) => ({ ...old, ...change }), label),
  };
}

/** What is to be changed of a basket, and what it was before. */
interface Write {
  changes: Partial<BasketEdit>;
  of: BasketEdit;
}

/** What differs and can be written. An empty pattern names nothing: it is not written, and told beside the field. */
function writable(old: BasketEdit, edit: BasketEdit): Partial<BasketEdit> {
  const { pattern, ...changes } = changesOf(old, edit);
  return pattern === undefined || pattern.trim() === '' ? changes : { ...changes, pattern };
}

async function written(
  id: string,
  { changes: { rows, ...settings }, of }: Write,
): Promise<BasketWire | undefined> {
  const was = Object.fromEntries(
    Object.keys(settings).map((field) => [field, of[field as keyof BasketEdit]]),
  );
  let answer: BasketWire | undefined;
  if (Object.keys(settings).length > 0)
    answer = await sendJson<BasketWire>('PATCH', `/api/baskets/${id}`, { ...settings, was });
  if (rows) answer = await sendJson<BasketWire>('PUT', `/api/baskets/${id}/items`, { rows, was: of.rows });
  return answer;
}
