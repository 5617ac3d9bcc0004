import { useMutation } from '@tanstack/react-query';
import type { TakeChange } from '../../server/library/takes.ts';
import { toastWithUndo } from '../../ui/undoToast.ts';
import { sendJson } from '../api/client.ts';
import { tellProblem, useRefresh } from '../api/queries.ts';

/** A take as it was before a change, as the server answers it. */
interface TakeBefore {
  id: string;
  source: string | null;
  contributor: string | null;
  rights: string;
  asked: TakeChange['asked'];
  aside: boolean;
}

interface Change {
  ids: readonly string[];
  change: TakeChange;
  /** In words, such as "3 takes set aside". */
  done: string;
  what: string;
}

/** Changes several takes at once, and offers to take it back. */
export function useTakeChanges() {
  const renew = useRefresh();
  const refresh = () => renew('takes', 'take', 'sources');
  const back = useMutation({
    mutationFn: async (groups: readonly { ids: string[]; change: TakeChange }[]) => {
      for (const { ids, change } of groups) await sendJson('PATCH', '/api/takes', { ids, ...change });
    },
    onError: tellProblem,
    onSettled: refresh,
  });
  return useMutation({
    mutationFn: ({ ids, change }: Change) =>
      sendJson<{ before: TakeBefore[] }>('PATCH', '/api/takes', { ids, ...change }),
    onError: tellProblem,
    onSuccess: ({ before }, { change, done, what }) =>
      toastWithUndo(done, what, () => back.mutate(alikeBefore(before, change))),
    onSettled: refresh,
  });
}

/** What was changed, as it was before; takes that were alike together. */
export function alikeBefore(
  before: readonly TakeBefore[],
  changed: TakeChange,
): { ids: string[]; change: TakeChange }[] {
  const groups = new Map<string, { ids: string[]; change: TakeChange }>();
  for (const { id, ...was } of before) {
    const change: TakeChange = {
      ...(changed.source === undefined ? {} : { source: was.source ?? '' }),
      ...(changed.contributor === undefined ? {} : { contributor: was.contributor ?? '' }),
      ...(changed.rights === undefined ? {} : { rights: was.rights }),
      ...(changed.asked === undefined ? {} : { asked: was.asked ?? {} }),
      ...(changed.aside === undefined ? {} : { aside: was.aside }),
    };
    const key = JSON.stringify(change);
    const group = groups.get(key);
    if (group) group.ids.push(id);
    else groups.set(key, { ids: [id], change });
  }
  return [...groups.values()];
}
