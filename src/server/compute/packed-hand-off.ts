import { zipSync } from 'fflate';
import { checksOf, type Check } from '../../core/exchange/checks.ts';
import {
  leavingPhrases,
  packHandOff,
  type HandOff,
  type LeavingPhrase,
  type Preview,
} from '../../core/exchange/handoff.ts';
import { safeFileName } from '../../core/phrase/naming.ts';
import { sha256Of } from '../checksum.ts';

/**
 * A hand-off as one ZIP; the same hand-off gives the same bytes. In folders, all of it stands in one of the hand-off's name.
 * @param previews by the paths of the files they are of
 */
export function packedHandOff(
  handOff: HandOff,
  previews: readonly (readonly [path: string, preview: Preview])[] = [],
): Uint8Array {
  const files = packHandOff(handOff, sha256Of, { previews: new Map(previews) });
  const root = handOff.layout === 'folders' ? `${safeFileName(handOff.title)}/` : '';
  const entries = files.map(
    ({ name, bytes }) =>
      // Sound hardly grows smaller, and takes long.
      [
        root + name,
        name.endsWith('.wav') ? ([bytes, { level: 0 }] as [Uint8Array, { level: 0 }]) : bytes,
      ] as const,
  );
  return zipSync(Object.fromEntries(entries), { mtime: new Date(handOff.madeAt) });
}

/** What somebody who opens the hand-off would stumble over. */
export function handOffChecks(
  handOff: HandOff,
  previews: readonly (readonly [path: string, preview: Pick<Preview, 'peak'>])[] = [],
): Check[] {
  const peaks = new Map(previews.map(([path, { peak }]) => [path, peak]));
  return checksOf(
    leavingPhrases(handOff).map((leaving) => ({ ...looked(leaving), peak: peaks.get(leaving.path) })),
    handOff,
  );
}

function looked({ phrase, clip, path, bytes }: LeavingPhrase) {
  const { id, name, rights, sheaf, capturedKey } = phrase;
  return { id, name, file: path.slice(path.lastIndexOf('/') + 1), clip, bytes, rights, sheaf, capturedKey };
}
