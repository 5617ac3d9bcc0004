import { useMutation } from '@tanstack/react-query';
import { toastWithUndo } from '../../ui/undoToast.ts';
import { sendJson } from '../api/client.ts';
import { renew, tellProblem, type TakeRowWire } from '../api/queries.ts';
import { useCurrentProject } from '../app/project.ts';

/** Whether a take is one clean part, of which a phrase can be made unseen. */
export function isClean({ parts, account, proposals, phrases }: TakeRowWire): boolean {
  return parts.length === 1 && proposals === 0 && phrases === 0 && account?.findings.length === 0;
}

/** Everything that shows what is kept. */
export function renewKept(): Promise<unknown> {
  return renew('takes', 'take', 'phrases', 'facets', 'drafts', 'harmony');
}

/** Tells what was kept, with a button that discards it again. */
export function tellKept(
  done: string,
  what: string,
  phraseIds: readonly string[],
  description?: string,
): void {
  const discard = () =>
    void sendJson('POST', '/api/phrases/state', { phraseIds, state: 'discarded' })
      .then(renewKept)
      .catch(tellProblem);
  toastWithUndo(done, what, discard, description);
}

/** Makes the phrase of a take of one clean part, keeps it, and says what was done. */
export function useKeep() {
  const project = useCurrentProject();
  return useMutation({
    mutationFn: (take: TakeRowWire) =>
      sendJson<{ phraseId: string; name: string; done: string[] }>('POST', `/api/takes/${take.id}/keep`, {
        projectId: project?.id ?? null,
      }),
    onError: tellProblem,
    onSuccess: ({ phraseId, name, done }) => {
      void renewKept();
      tellKept(`"${name}" is kept in the library`, 'keeping it', [phraseId], done.join('\n'));
    },
  });
}
