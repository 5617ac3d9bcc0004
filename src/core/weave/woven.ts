import { chordsPlayedOver, inKeptKey } from '../reuse/child.ts';
import type { WovenPhrase } from './cell.ts';

/** A phrase as a weave takes it: with the chords it was played over, both in the key it is kept in. */
export function wovenOf(phrase: Parameters<typeof chordsPlayedOver>[0] & { state: string }): WovenPhrase {
  return {
    clip: phrase.clip,
    from: inKeptKey(chordsPlayedOver(phrase), phrase.takeKey, phrase.clip),
    isAside: phrase.state === 'discarded',
  };
}
