import { inBase64, packSwatch } from '../../../core/phrase/swatch.ts';
import type { PhraseWire } from '../../api/queries.ts';

const swatches = new WeakMap<PhraseWire, string>();

export function swatchOf(phrase: PhraseWire): string {
  const known = swatches.get(phrase);
  if (known !== undefined) return known;
  const made = inBase64(packSwatch(phrase.clip));
  swatches.set(phrase, made);
  return made;
}
