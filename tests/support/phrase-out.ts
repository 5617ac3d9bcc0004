import type { PhraseOut } from '../../src/core/exchange/handoff.ts';
import { barsOf, type Clip } from '../../src/core/phrase/clip.ts';

/** A phrase on its way out, of which only its clip matters. */
export function phraseOutOf(clip: Clip, more: Partial<PhraseOut> = {}): PhraseOut {
  return {
    ...{
      id: 'p1',
      isKept: true,
      saysId: true,
      hash: null,
      name: 'Barrow',
      clip,
      fitting: {},
      bars: barsOf(clip),
    },
    ...{ tags: [], project: '', sheaf: null, rights: 'own work', contributor: '', purpose: null },
    source: { take: 'Take', sha256: '', part: 'Part', startBar: 1 },
    recipe: { version: 1, steps: [] },
    ...{ changes: null, capturedKey: clip.key, keptKey: clip.key, parents: [] },
    ...more,
  };
}
