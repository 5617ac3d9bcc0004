import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { isFitting } from '../../core/normalize/fitting.ts';
import { Button } from '../../ui/Button.tsx';
import { FileLink } from '../../ui/ButtonLink.tsx';
import { toastWithUndo } from '../../ui/undoToast.ts';
import { sendJson } from '../api/client.ts';
import { renew, tellProblem, type PhraseWire } from '../api/queries.ts';
import type { PhraseEdit } from './editing.ts';

function setState(phraseIds: string[], state: 'draft' | 'kept' | 'discarded'): Promise<unknown> {
  return sendJson('POST', '/api/phrases/state', { phraseIds, state });
}

/** Saves what was changed; a draft becomes kept by it. */
export function useSave(phrase: PhraseWire, edit: PhraseEdit) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async ({ keepSheaf }: { keepSheaf: boolean }) => {
      const saved = await sendJson<PhraseWire>('PUT', `/api/phrases/${phrase.id}`, {
        ...edit,
        state: 'kept',
      });
      if (keepSheaf)
        await setState(
          phrase.siblings.map(({ id }) => id),
          'kept',
        );
      return saved;
    },
    onError: tellProblem,
    onSuccess: async (saved, { keepSheaf }) => {
      client.setQueryData(['phrase', phrase.id], saved);
      await renew(
        'phrases',
        'facets',
        'drafts',
        'takes',
        'baskets',
        'basket',
        ...(keepSheaf ? ['phrase'] : []),
      );
      toast.success(
        phrase.state === 'kept'
          ? 'Saved.'
          : keepSheaf
            ? `The sheaf of ${phrase.siblings.length + 1} is kept in the library.`
            : `"${saved.name}" is kept in the library.`,
      );
    },
  });
}

/** What is done with the phrase as a whole: keeping, saving, discarding, exporting. */
export function SaveBox({
  phrase,
  edit,
  isChanged,
  save,
}: {
  phrase: PhraseWire;
  edit: PhraseEdit;
  isChanged: boolean;
  save: ReturnType<typeof useSave>;
}) {
  const navigate = useNavigate();
  const discard = useMutation({
    mutationFn: () => setState([phrase.id], 'discarded'),
    onError: tellProblem,
    onSuccess: async () => {
      await renew('drafts', 'takes', 'take');
      void navigate(`/split/${phrase.takeId}`);
      toastWithUndo(`"${phrase.name}" is discarded.`, 'discarding', () => {
        setState([phrase.id], 'draft')
          .then(() => renew('drafts', 'takes', 'take'))
          .then(() => navigate(`/normalize/${phrase.id}`))
          .catch(tellProblem);
      });
    },
  });
  const isDraft = phrase.state === 'draft';
  return (
    <div className="grid gap-2 border-t border-rule p-4">
      <div className="flex gap-2">
        {isDraft ? (
          <Button kind="quiet" onClick={() => discard.mutate()} disabled={discard.isPending}>
            Discard draft
          </Button>
        ) : (
          <FileLink href={`/api/phrases/${phrase.id}/file`}>
            {isFitting(edit.fitting) ? 'Export .mid, fitted' : 'Export .mid'}
          </FileLink>
        )}
        <Button
          kind="primary"
          className="flex-1"
          disabled={save.isPending || (!isDraft && !isChanged)}
          onClick={() => save.mutate({ keepSheaf: false })}
        >
          {isDraft ? 'Keep in library' : isChanged ? 'Save changes' : 'Saved'}
        </Button>
      </div>
      {isDraft && phrase.siblings.length > 0 && (
        <Button onClick={() => save.mutate({ keepSheaf: true })} disabled={save.isPending}>
          Keep the whole sheaf of {phrase.siblings.length + 1}
        </Button>
      )}
    </div>
  );
}
