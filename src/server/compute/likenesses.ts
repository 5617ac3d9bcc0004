import { likenessOf, type Likeness } from '../../core/catalog/alike.ts';
import { comparedPhrase, type PhraseAsKept } from '../../core/catalog/compared.ts';

/** What each of some pairs of phrases has in common, by their places in the list; null where there is nothing to say. */
export function likenesses(
  phrases: readonly PhraseAsKept[],
  pairs: readonly (readonly [number, number])[],
): (Likeness | null)[] {
  const compared = phrases.map(comparedPhrase);
  return pairs.map(([a, b]) => likenessOf(compared[a]!, compared[b]!));
}
