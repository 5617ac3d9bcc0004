import { useMutation } from '@tanstack/react-query';
import type { TakeChange } from '../../../server/library/takes/takes.ts';
import { toastWithUndo } from '../../../ui/history/undoToast.ts';
import { sendJson } from '../../api/client.ts';
import { tellProblem, renew } from '../../api/queries.ts';
import { alikeBefore, type TakeBefore } from './alike-before.ts';

interface Change {
  ids: readonly string[];
  change: TakeChange;
  /** In words, such as "3 takes set aside". */
  done: string;
  what: string;
}

/** Changes several takes at once, and offers to take it back. */
export function useTakeChanges() {
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
