import { useMutation } from '@tanstack/react-query';
import type { PhraseBefore, PhraseChanges } from '../../../server/library/phrases/phrase-changes.ts';
import { toastWithUndo } from '../../../ui/history/undoToast.ts';
import { plural } from '../../../core/words.ts';
import { sendJson } from '../../api/client.ts';
import { renew, tellProblem } from '../../api/queries.ts';
import { ratingWords } from './rating.ts';

/** Phrases that are put back in one request. */
const AT_ONCE = 3000;

interface Change {
  ids: readonly string[];
  change: PhraseChanges;
  /** In words: what was done, and what would be taken back. */
  done: string;
  what: string;
}

/** Tags put on phrases. */
export function tagged(ids: readonly string[], tags: readonly string[]): Change {
  const done = `${plural(ids.length, 'phrase')} tagged ${tags.join(', ')}.`;
  return { ids, change: { addTags: tags }, done, what: 'tagging' };
}

/** A rating, or (null) none. */
export function rated(ids: readonly string[], rating: number | null): Change {
  const words = rating === null ? 'not rated' : `rated ${ratingWords(rating)}`;
  return { ids, change: { rating }, done: `${plural(ids.length, 'phrase')} ${words}.`, what: 'rating' };
}

const refresh = () => renew('phrases', 'facets', 'phrase', 'tags', 'basket');

/** Tells many phrases the same, shows it everywhere, and offers to take it back. */
export function useTellPhrases() {
  const tell = ({ ids, change }: Pick<Change, 'ids' | 'change'>) =>
    sendJson<{ before: PhraseBefore[] }>('POST', '/api/phrases/changes', { phraseIds: ids, ...change });
  return useMutation({
    mutationFn: tell,
    onError: tellProblem,
    onSuccess: ({ before }, { ids, change, done, what }: Change) =>
      toastWithUndo(done, what, () => putBack(before).catch(tellProblem), {
        redo: () => tell({ ids, change }).then(refresh).catch(tellProblem),
      }),
    onSettled: refresh,
  });
}

async function putBack(before: readonly PhraseBefore[]): Promise<void> {
  for (let at = 0; at < before.length; at += AT_ONCE)
    await sendJson('POST', '/api/phrases/restored', { before: before.slice(at, at + AT_ONCE) });
  await refresh();
}
