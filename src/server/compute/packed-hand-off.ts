import { zipSync, type Zippable } from 'fflate';
import { checksOf, type Check } from '../../core/exchange/checks.ts';
import type { HandOff, Preview } from '../../core/exchange/handoff.ts';
import {
  countInTicks,
  leavingPhrases,
  namedFiles,
  nameOf,
  type LeavingPhrase,
} from '../../core/exchange/leaving.ts';
import { looseFiles, outFiles, type OutFileTold } from '../../core/exchange/out-files.ts';
import { playedSums } from '../../core/exchange/played.ts';
import { packHandOff } from '../../core/exchange/pack.ts';
import { soundings, type PreviewsWanted, type Sounding } from '../../core/exchange/sounding.ts';
import { safeFileName } from '../../core/phrase/naming.ts';
import { sha256Of } from '../checksum.ts';

/** Previews of files, by the paths of what they are of. */
export type Previews = readonly (readonly [path: string, preview: Preview])[];

/**
 * A hand-off as one ZIP; the same hand-off gives the same bytes. In folders, all of it stands in one of the hand-off's name.
 */
export function packedHandOff(handOff: HandOff, previews: Previews = []): Uint8Array {
  const root = handOff.layout !== 'flat' ? `${safeFileName(handOff.title)}/` : '';
  const files: Zippable = {};
  for (const { name, bytes } of packHandOff(handOff, sha256Of, new Map(previews)))
    // Sound hardly grows smaller, and takes long.
    files[root + name] = name.endsWith('.wav') ? [bytes, { level: 0 }] : bytes;
  return zipSync(files, { mtime: new Date(handOff.madeAt) });
}

/** What somebody who opens the hand-off would stumble over. */
export function handOffChecks(handOff: HandOff, previews: Previews = []): Check[] {
  return checksIn(handOff, leavingPhrases(handOff), previews);
}

/** The checks before anything is rendered, and what there is to be rendered; the names of what leaves. */
export function readyToPack(
  handOff: HandOff,
  wanted: PreviewsWanted | null,
): { checks: Check[]; names: string[]; played: Map<string, string>; sounding: Sounding[] } {
  const leaving = leavingPhrases(handOff);
  return {
    checks: checksIn(handOff, leaving, []),
    names: leaving.map(({ path }) => path),
    played: playedSums(leaving, sha256Of),
    sounding: wanted ? soundings(handOff, leaving, wanted) : [],
  };
}

function checksIn(handOff: HandOff, leaving: readonly LeavingPhrase[], previews: Previews): Check[] {
  const peaks = new Map(previews.map(([path, { peak }]) => [path, peak]));
  const looked = leaving.map(({ phrase, piece, clip, path, bytes }) => ({
    id: phrase.isKept ? phrase.id : null,
    name: nameOf(phrase.name, piece),
    ...{ rights: phrase.rights, capturedKey: phrase.capturedKey, clip, bytes },
    // The pieces of one kit are no parts that sound together.
    sheaf: piece ? null : phrase.sheaf,
    file: path.slice(path.lastIndexOf('/') + 1),
    countIn: countInTicks(clip.timeline, handOff.out.countIn),
    peak: peaks.get(path),
  }));
  return checksOf(looked, { plain: handOff.out.sounds === 'plain', card: handOff.card });
}

/** What is looked at before something leaves: its files without their bytes, and what somebody would stumble over. */
export function planOf(handOff: HandOff): { files: (OutFileTold & { path: string })[]; checks: Check[] } {
  const out = outFiles(handOff);
  return {
    files: looseFiles(out).map(({ path, told }) => ({ path, ...told })),
    checks: checksIn(handOff, out.leaving, []),
  };
}

/** The files by themselves, without manifest and note: one as it is, several in a ZIP. */
export function filesOut(handOff: HandOff): { file: string; bytes: Uint8Array } {
  const files = looseFiles(outFiles(handOff));
  if (files.length === 1) return { file: files[0]!.path, bytes: files[0]!.bytes };
  const zipped = Object.fromEntries(files.map(({ path, bytes }) => [path, bytes]));
  return {
    file: `${safeFileName(handOff.title)}.zip`,
    bytes: zipSync(zipped, { mtime: new Date(handOff.madeAt) }),
  };
}

/** Files of phrases under given names, and their checksums. */
export function mirroredFiles(handOff: HandOff, names: readonly string[]) {
  return namedFiles(handOff, names).map((file) => ({ ...file, sha256: sha256Of(file.bytes) }));
}
