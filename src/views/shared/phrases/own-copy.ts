import { sendJson } from '../../api/client.ts';
import { renew, type PhraseWire } from '../../api/queries.ts';

/** Keeps a child of a phrase that is as it: what is edited in it leaves the phrase as it is. @returns its id */
export async function ownCopyOf(phrase: PhraseWire, projectId: string | null): Promise<string> {
  const { phraseIds } = await sendJson<{ phraseIds: string[] }>('POST', '/api/phrases/children', {
    children: [{ parentId: phrase.id, recipe: phrase.recipe, name: `${phrase.name}, own copy` }],
    done: 'a copy of its own',
    tags: [],
    projectId,
  });
  void renew('phrases', 'facets', 'children', 'relatives', 'lineage');
  return phraseIds[0]!;
}
