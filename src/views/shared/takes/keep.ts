import { useMutation } from '@tanstack/react-query';
import { toast } from 'sonner';
import { toastWithUndo } from '../../../ui/history/undoToast.ts';
import { sendJson } from '../../api/client.ts';
import { renew, tellProblem, type TakeRowWire } from '../../api/queries.ts';
import { useCurrentProject } from '../project.ts';
import { setPhraseState } from '../phrases/state.ts';

/** Whether a take is one clean part, of which a phrase can be made unseen. */
export function isClean({ parts, account, proposals, phrases }: TakeRowWire): boolean {
  return parts.length === 1 && proposals === 0 && phrases === 0 && account?.findings.length === 0;
}

/** Everything that shows what is kept. */
export function renewKept(): Promise<unknown> {
  return renew('takes', 'take', 'phrases', 'facets', 'drafts', 'harmony');
}

/** Tells what was kept, with a button that sets it aside again. */
export function tellKept(
  done: string,
  what: string,
  phraseIds: readonly string[],
  description?: string,
): void {
  toastWithUndo(done, what, () => setPhraseState(phraseIds, 'discarded').catch(tellProblem), {
    description,
    redo: () => setPhraseState(phraseIds, 'back').catch(tellProblem),
  });
}

/** Makes the phrase of a take of one clean part, keeps it, and says what was done. */
export function useKeep() {
  const project = useCurrentProject();
  return useMutation({
    mutationFn: (take: TakeRowWire) =>
      sendJson<{ phraseId: string; name: string; done: string[]; already: boolean }>(
        'POST',
        `/api/takes/${take.id}/keep`,
        { projectId: project?.id ?? null },
      ),
    onError: tellProblem,
    onSuccess: ({ phraseId, name, done, already }) => {
      void renewKept();
      if (already) return void toast(`"${name}" is kept in the library already.`);
      return tellKept(`"${name}" is kept in the library`, 'keeping it', [phraseId], done.join('\n'));
    },
  });
}
