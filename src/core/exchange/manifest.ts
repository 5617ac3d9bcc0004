import { keyName, type Key } from '../music/key.ts';
import { meterAt } from '../music/timeline.ts';
import { isFitting } from '../normalize/fitting.ts';

import {
  leavingPpq,
  previewPath,
  swingOrNull,
  tempoOf,
  type HandOff,
  type LeavingPhrase,
} from './handoff.ts';
/** Version of manifest.json; docs/formats/manifest.md describes it. */
const MANIFEST_VERSION = 2;

/** What `manifest.json` says of a pack; docs/formats/manifest.md describes it. */
export function makeManifest(
  handOff: HandOff,
  leaving: readonly LeavingPhrase[],
  combined: string | null,
  sums: ReadonlyMap<string, string>,
) {
  return {
    format: 'hollow-basket-hand-off',
    version: MANIFEST_VERSION,
    title: handOff.title,
    madeAt: handOff.madeAt,
    combined,
    layout: handOff.layout,
    plain: handOff.plain,
    files: [...sums].map(([file, sum]) => ({ file, sha256: sum })),
    phrases: leaving.map(({ phrase, path }) => {
      const meter = meterAt(phrase.clip.timeline, 0);
      return {
        file: path,
        sha256: sums.get(path)!,
        ...(sums.has(previewPath(path)) ? { preview: previewPath(path) } : {}),
        id: phrase.id,
        name: phrase.name,
        role: phrase.clip.role,
        purpose: phrase.purpose,
        key: phrase.clip.key && { ...keyParts(phrase.clip.key) },
        capturedKey: phrase.capturedKey && keyParts(phrase.capturedKey),
        keptKey: phrase.keptKey && keyParts(phrase.keptKey),
        changes: phrase.changes?.map(({ beat, beats, symbol }) => ({ beat, beats, symbol })) ?? null,
        swing: swingOrNull(phrase.clip),
        bpm: tempoOf(phrase.clip),
        meter: { numerator: meter.numerator, denominator: meter.denominator },
        bars: phrase.bars,
        notes: phrase.clip.notes.length,
        channel: phrase.clip.channel + 1,
        program: phrase.clip.program + 1,
        ppq: leavingPpq(phrase.recipe),
        sheaf: phrase.sheaf?.id ?? null,
        sheafName: phrase.sheaf?.name ?? null,
        tags: phrase.tags,
        rights: phrase.rights,
        contributor: phrase.contributor,
        parents: phrase.parents,
        source: phrase.source,
        recipe: phrase.recipe,
        ...(phrase.clip.pickup > 0 ? { pickupBars: 1 } : {}),
        ...(isFitting(phrase.fitting) ? { fitting: phrase.fitting } : {}),
      };
    }),
  };
}

function keyParts(key: Key) {
  const [tonic, mode] = keyName(key).split(' ');
  return { tonic, mode };
}
