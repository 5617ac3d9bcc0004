import { plural } from '../../../core/words.ts';
import { didDeed } from '../../../ui/history/deeds.ts';
import { toastWithUndo } from '../../../ui/history/undoToast.ts';
import { sendJson } from '../../api/client.ts';
import { renew, tellProblem } from '../../api/queries.ts';

/** What phrases can be made; `back` makes what was set aside what it was before. */
export type NextState = 'draft' | 'kept' | 'discarded' | 'back';

/** Keeps phrases, sets them aside or brings them back, and shows it everywhere. Answers the baskets that hold any of them. */
export async function setPhraseState(
  phraseIds: readonly string[],
  state: NextState,
): Promise<{ baskets: string[] }> {
  const answer = await sendJson<{ baskets: string[] }>('POST', '/api/phrases/state', { phraseIds, state });
  await renew(
    ...[
      'drafts',
      'phrases',
      'facets',
      'takes',
      'take',
      'phrase',
      'basket',
      'harmony',
      'children',
      'relatives',
    ],
  );
  return answer;
}

/** Sets phrases aside, tells it with what baskets hold them, and how it is taken back. */
export async function setAsideOf(
  phrases: readonly { id: string; name: string; state?: string }[],
): Promise<void> {
  const ids = phrases.map(({ id }) => id);
  const { baskets } = await setPhraseState(ids, 'discarded');
  const what = phrases.length === 1 ? `"${phrases[0]!.name}"` : plural(phrases.length, 'phrase');
  toastWithUndo(
    `${what} ${phrases.length === 1 ? 'is' : 'are'} set aside.`,
    `setting ${what} aside`,
    () => setPhraseState(ids, 'back').catch(tellProblem),
    {
      redo: () => setPhraseState(ids, 'discarded').catch(tellProblem),
      description:
        baskets.length > 0
          ? `Still in ${baskets.map((name) => `"${name}"`).join(', ')}, where it is marked.`
          : undefined,
    },
  );
}

/** Puts the making of drafts into the window's history. `path` is where they were made from. */
export function didMake(phraseIds: readonly string[], path: string): void {
  didDeed({
    what: `making ${plural(phraseIds.length, 'draft')}`,
    source: `drafts ${phraseIds[0]}`,
    path,
    undo: () => setPhraseState(phraseIds, 'discarded').catch(tellProblem),
    redo: () => setPhraseState(phraseIds, 'back').catch(tellProblem),
  });
}
