import type { Place } from '../../../server/library/phrases/places.ts';
import { plural } from '../../../core/words.ts';
import { sendJson } from '../../api/client.ts';
import { renew } from '../../api/queries.ts';

/** The baskets and weaves that hold one of some phrases. */
export async function placesOf(phraseIds: readonly string[]): Promise<Place[]> {
  return (await sendJson<{ places: Place[] }>('POST', '/api/phrases/places', { phraseIds })).places;
}

/** Puts a phrase in the place of another in some of them. */
export async function exchange(from: string, to: string, places: readonly Place[]): Promise<void> {
  const some = places.map(({ kind, id }) => ({ kind, id }));
  await sendJson('PUT', '/api/phrases/places', { from, to, places: some });
  await renew('basket', 'baskets', 'weave', 'phrases', 'facets');
}

/** Such as '2 baskets and a weave'. */
export function placesInWords(places: readonly Place[]): string {
  const count = (kind: Place['kind']) => places.filter((place) => place.kind === kind).length;
  return (['basket', 'weave'] as const)
    .filter((kind) => count(kind) > 0)
    .map((kind) => (count(kind) === 1 ? `a ${kind}` : plural(count(kind), kind)))
    .join(' and ');
}
