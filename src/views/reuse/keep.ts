import { useNavigate } from 'react-router';
import { madeParts } from '../../core/harmonize/made-clips.ts';
import type { Key } from '../../core/music/key.ts';
import type { RecipeStep } from '../../core/normalize/recipe.ts';
import type { Clip } from '../../core/phrase/clip.ts';
import { childRecipe } from '../../core/reuse/child.ts';
import { toastWithUndo } from '../../ui/history/undoToast.ts';
import { sendJson } from '../api/client.ts';
import { renew, tellProblem, type PhraseWire } from '../api/queries.ts';
import { tellKept } from '../shared/takes/keep.ts';
import { titleOf, type Taken, type ThroughEdit } from './through/through-edit.ts';

/** Sends what is to be kept, tells it with a way back, and goes to where it stands; with `to` null it stays. */
function useKept(
  path: string,
  what: string,
  told: (count: number) => string,
  to: string | null = '/reuse',
): (body: object) => void {
  const navigate = useNavigate();
  return (body) =>
    void sendJson<{ phraseIds: string[] }>('POST', path, body).then(({ phraseIds }) => {
      void renew('phrases', 'facets', 'children', 'relatives', 'harmony', 'takes', 'sources');
      tellKept(told(phraseIds.length), what, phraseIds);
      if (to !== null) void navigate(to);
    }, tellProblem);
}

/** Keeps what came of it as children. */
export function useKeep(
  phrases: readonly PhraseWire[],
  edit: ThroughEdit,
  taken: readonly Taken[],
  projectId: string | null,
): () => void {
  const keep = useKept('/api/phrases/children', 'keeping children', (count) =>
    count === 1 ? 'Kept as a child.' : `Kept ${count} children, as a sheaf.`,
  );
  return () => {
    if (taken.length === 0) return;
    const done = `through ${edit.to}`.slice(0, LONGEST);
    keep({
      children: taken.map(({ phrase, steps }) => ({
        parentId: phrase.id,
        recipe: childRecipe(phrase.recipe, steps),
        name: `${phrase.name}, ${done}`.slice(0, LONGEST),
      })),
      done,
      sheafName: `${titleOf(phrases)}, ${done}`.slice(0, LONGEST),
      tags: [],
      projectId,
    });
  };
}

/** Keeps a layer of a phrase. */
export function useKeepLayer(phrase: PhraseWire, step: RecipeStep, projectId: string | null): () => void {
  const keep = useKept('/api/phrases/children', 'keeping the layer', () => 'The layer is kept.');
  return () =>
    keep({
      children: [
        {
          parentId: phrase.id,
          recipe: childRecipe(phrase.recipe, [step]),
          name: `${phrase.name}, layer`.slice(0, LONGEST),
        },
      ],
      done: 'a layer',
      tags: [],
      projectId,
    });
}

/** A part that was made, as a clip. */
export interface MadePartClip {
  name: string;
  role: 'keys' | 'bass';
  clip: Clip;
}

/** Keeps chords and a bass that were made for a tune. */
export function useKeepMade(
  phrase: PhraseWire,
  made: readonly MadePartClip[],
  { chart, key, projectId }: { chart: string; key: Key; projectId: string | null },
): () => void {
  const keep = useKept('/api/made', 'keeping chords', (count) =>
    count === 1 ? 'Kept the chords.' : 'Kept the chords and the bass, as a sheaf.',
  );
  return () => {
    const parts = madeParts(made);
    if (!parts) return;
    keep({
      ...parts,
      name: `Chords for ${phrase.name}`.slice(0, LONGEST),
      key,
      parentIds: [phrase.id],
      done: `chords for it: ${chart}`.slice(0, LONGEST),
      tags: [],
      projectId,
    });
  };
}

/** Keeps changes that were written: as changes under their key, and as a phrase that plays them. */
export function useKeepChanges({
  name,
  chart,
  key,
  bpm,
  meter,
  clip,
  projectId,
}: {
  name: string;
  chart: string;
  key: Key;
  bpm: number;
  meter: { numerator: number; denominator: number };
  clip: Clip | null;
  projectId: string | null;
}): { asChanges: () => void; asPhrase: () => void } {
  const keep = useKept('/api/made', 'keeping them', () => 'Kept as a phrase in the library.', null);
  const aside = (id: string, isAside: boolean) =>
    sendJson('PATCH', `/api/changes/${id}`, { aside: isAside })
      .then(() => renew('changes'))
      .catch(tellProblem);
  return {
    asChanges: () =>
      void sendJson<{ id: string }>('POST', '/api/changes/written', { name, chart, key, bpm, meter }).then(
        ({ id }) => {
          void renew('changes');
          toastWithUndo('The changes are kept under their key.', 'keeping them', () => aside(id, true), {
            redo: () => aside(id, false),
          });
        },
        tellProblem,
      ),
    asPhrase: () =>
      clip &&
      keep({
        ...madeParts([{ name: 'Keys', role: 'keys', clip }]),
        ...{ name: name.slice(0, LONGEST), key, projectId },
        parentIds: [],
        done: `written: ${chart}`.slice(0, LONGEST),
        tags: [],
      }),
  };
}

/** Names are no longer. */
const LONGEST = 200;
