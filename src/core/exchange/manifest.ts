import { hexOf } from '../hex.ts';
import { keyName, type Key } from '../music/key.ts';
import { meterAt } from '../music/timeline.ts';
import { isFitting } from '../normalize/fitting.ts';
import type { Clip } from '../phrase/clip.ts';
import { fingerprintOf, packFingerprint } from '../catalog/fingerprint.ts';
import { strokesOf } from '../catalog/strokes.ts';
import { MANIFEST_FORMAT, MANIFEST_VERSION } from './manifest-format.ts';
import { previewPath, tempoOf, type HandOff } from './handoff.ts';
import { fittingOf, leavingPpq, swingOrNull, type LeavingPhrase } from './leaving.ts';

/** What `manifest.json` says of a pack; docs/formats/manifest.md describes it. */
export function makeManifest(
  handOff: HandOff,
  leaving: readonly LeavingPhrase[],
  combined: string | null,
  sums: ReadonlyMap<string, string>,
  played: ReadonlyMap<string, string>,
) {
  return {
    format: MANIFEST_FORMAT,
    version: MANIFEST_VERSION,
    title: handOff.title,
    madeAt: handOff.madeAt,
    combined,
    layout: handOff.layout,
    plain: handOff.out.sounds === 'plain',
    out: handOff.out,
    recipient: handOff.recipient,
    library: handOff.library,
    files: [...sums].map(([file, sum]) => ({ file, sha256: sum })),
    phrases: leaving.map(({ phrase, piece, clip, changes, path }) => {
      const meter = meterAt(phrase.clip.timeline, 0);
      const fitting = fittingOf(phrase, handOff);
      return {
        ...whereIn(handOff, path, combined, sums),
        ...(sums.has(previewPath(path)) ? { preview: previewPath(path) } : {}),
        id: phrase.id,
        hash: phrase.hash,
        played: played.get(phrase.id)!,
        fingerprint: fingerprintText(clip),
        name: phrase.name,
        ...(piece ? { piece } : {}),
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
        notes: clip.notes.length,
        channel: clip.channel + 1,
        program: clip.program + 1,
        ppq: leavingPpq(phrase.recipe, handOff.out),
        sheaf: phrase.sheaf?.id ?? null,
        sheafName: phrase.sheaf?.name ?? null,
        tags: phrase.tags,
        rights: phrase.rights,
        contributor: phrase.contributor,
        parents: phrase.parents,
        source: phrase.source,
        recipe: phrase.recipe,
        ...(phrase.heading ? { heading: phrase.heading } : {}),
        ...(phrase.own ? { own: phrase.own } : {}),
        ...(phrase.clip.pickup > 0 ? { pickupBars: 1 } : {}),
        ...(isFitting(fitting) ? { fitting } : {}),
        ...(changes.length > 0 ? { forRecipient: changes.map(({ text }) => text) } : {}),
      };
    }),
  };
}

/** By which what comes back is recognized in any key, tempo and resolution, in hexadecimal digits. */
function fingerprintText(clip: Clip): string {
  return hexOf(packFingerprint(fingerprintOf(strokesOf(clip, tempoOf(clip), swingOrNull(clip)))));
}

/** The file a phrase is in: its own, or that of all of them where nothing else leaves. */
function whereIn({ out }: HandOff, path: string, combined: string | null, sums: ReadonlyMap<string, string>) {
  const file = out.as === 'one' ? combined! : path;
  return { file, sha256: sums.get(file)! };
}

function keyParts(key: Key) {
  const [tonic, mode] = keyName(key).split(' ');
  return { tonic, mode };
}
