import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Download } from 'lucide-react';
import { useNavigate } from 'react-router';
import { exportedPhrase } from '../../core/exchange/leaving.ts';
import { isFitting } from '../../core/normalize/fitting.ts';
import type { Clip } from '../../core/phrase/clip.ts';
import { safeFileName } from '../../core/phrase/naming.ts';
import { useActions } from '../../ui/actions.ts';
import { Button } from '../../ui/Button.tsx';
import type { useHistory } from '../../ui/history/history.ts';
import { saveFile } from '../../ui/save-file.ts';
import { toastWithUndo } from '../../ui/history/undoToast.ts';
import { sendJson } from '../api/client.ts';
import { renew, tellProblem, type PhraseWire } from '../api/queries.ts';
import { BehindBox } from './notes/BehindBox.tsx';
import { phraseEditOf, type PhraseEdit } from '../../core/merge/phrase-edits.ts';
import { setAsideOf, setPhraseState } from '../shared/phrases/state.ts';

export type PhraseHistory = ReturnType<typeof useHistory<PhraseEdit>>;

/** Saves an edit that was made of `base`: what others changed in other places meanwhile stays. */
export function put(
  id: string,
  edit: PhraseEdit,
  state: string,
  on: { basedOn: string; base?: PhraseEdit },
): Promise<PhraseWire> {
  return sendJson<PhraseWire>('PUT', `/api/phrases/${id}`, { ...edit, state, ...on });
}

/** Saves what was changed; a draft becomes kept by it. Taken back, the library has the version before, and the screen this one. */
export function useSave(phrase: PhraseWire, history: PhraseHistory) {
  const client = useQueryClient();
  const settle = async (saved: PhraseWire) => {
    client.setQueryData(['phrase', phrase.id], saved);
    await renew('phrases', 'facets', 'drafts', 'takes', 'take', 'baskets', 'basket', 'harmony');
  };
  return useMutation({
    mutationFn: async ({ keepSheaf }: { keepSheaf: boolean }) => {
      // What it was is taken now: what is shown may have followed the library by the time the answer is here.
      const was = { edit: history.base, state: phrase.state };
      const saved = await put(phrase.id, history.value, 'kept', {
        basedOn: phrase.updatedAt,
        base: history.base,
      });
      const siblings = keepSheaf ? phrase.siblings.map(({ id }) => id) : [];
      if (siblings.length > 0) await setPhraseState(siblings, 'kept');
      return { saved, siblings, was };
    },
    onError: async (error) => {
      tellProblem(error);
      await client.invalidateQueries({ queryKey: ['phrase', phrase.id] });
    },
    onSuccess: async ({ saved, siblings, was }) => {
      const now = phraseEditOf(saved);
      history.settle(now);
      await settle(saved);
      let version = saved.updatedAt;
      const write = (edit: PhraseEdit, state: string) =>
        put(phrase.id, edit, state, { basedOn: version })
          .then(async (written) => {
            version = written.updatedAt;
            history.rebase(phraseEditOf(written));
            if (siblings.length > 0) await setPhraseState(siblings, state === 'kept' ? 'kept' : 'draft');
            await settle(written);
          })
          .catch(tellProblem);
      const isNew = was.state !== 'kept';
      toastWithUndo(
        !isNew
          ? 'Saved.'
          : siblings.length > 0
            ? `The sheaf of ${siblings.length + 1} is kept in the library.`
            : `"${saved.name}" is kept in the library.`,
        isNew ? `keeping "${saved.name}"` : `saving "${saved.name}"`,
        () => write(was.edit, was.state),
        { redo: () => write(now, 'kept') },
      );
    },
  });
}

/** What is done with the phrase as a whole: keeping, saving, setting aside, exporting. */
export function SaveBox({
  phrase,
  history,
  kept,
  solid,
  isChanged,
  isBehind,
  save,
  onSave,
}: {
  phrase: PhraseWire;
  history: PhraseHistory;
  /** The newest version in the library. */
  kept: PhraseEdit;
  /** What is on the screen. */
  solid: Clip;
  isChanged: boolean;
  /** Another window has saved it since changes here began. */
  isBehind: boolean;
  save: ReturnType<typeof useSave>;
  /** What was changed is to be saved. */
  onSave: () => void;
}) {
  const navigate = useNavigate();
  const edit = history.value;
  const setAside = useMutation({
    mutationFn: async () => {
      // What it was is taken now: by the time the answer is here it is shown as set aside.
      const wasDraft = phrase.state === 'draft';
      await setAsideOf([phrase]);
      return wasDraft;
    },
    onError: tellProblem,
    onSuccess: (wasDraft) => wasDraft && void navigate(`/split/${phrase.takeId}`),
  });
  const bringBack = useMutation({
    mutationFn: () => setPhraseState([phrase.id], 'back'),
    onError: tellProblem,
  });
  const exportFile = () =>
    saveFile(
      exportedPhrase({ ...edit, clip: solid, name: solid.name ?? edit.name }),
      `${safeFileName(solid.name ?? edit.name)}.mid`,
      'audio/midi',
    );
  const isDraft = phrase.state === 'draft';
  const isAside = phrase.state === 'discarded';
  useActions('This phrase', [
    { title: 'Export it as .mid', keys: ['Ctrl+e'], run: exportFile, words: 'download file midi save as' },
    isAside
      ? { title: 'Bring it back', run: () => bringBack.mutate(), words: 'restore undelete' }
      : { title: 'Set it aside', run: () => setAside.mutate(), words: 'delete remove discard' },
  ]);
  return (
    <div className="grid gap-2 border-t border-rule p-4">
      {isBehind && <BehindBox mine={edit} theirs={kept} history={history} />}
      <div className="flex gap-2">
        <Button onClick={exportFile} title="As it is on the screen, in the key it was captured in (Ctrl E)">
          <Download size={13} aria-hidden="true" />
          {isFitting(edit.fitting) ? 'Export .mid, fitted' : 'Export .mid'}
        </Button>
        {isAside ? (
          <Button kind="primary" className="flex-1" onClick={() => bringBack.mutate()}>
            Bring back
          </Button>
        ) : (
          <Button
            kind="primary"
            className="flex-1"
            disabled={save.isPending || isBehind || (!isDraft && !isChanged)}
            onClick={onSave}
          >
            {isDraft ? 'Keep in library' : isChanged ? 'Save changes' : 'Saved'}
          </Button>
        )}
      </div>
      {isDraft && phrase.siblings.length > 0 && (
        <Button onClick={() => save.mutate({ keepSheaf: true })} disabled={save.isPending || isBehind}>
          Keep the whole sheaf of {phrase.siblings.length + 1}
        </Button>
      )}
      {!isAside && (
        <Button
          kind="quiet"
          small
          onClick={() => setAside.mutate()}
          disabled={setAside.isPending}
          title="Not used, and not shown among the others; never deleted"
        >
          {isDraft ? 'Discard draft' : 'Set aside'}
        </Button>
      )}
      {isAside && <p className="text-sm text-muted">Set aside: it is not shown among the others.</p>}
    </div>
  );
}
