import { previewPath, type HandOff, type Preview } from './handoff.ts';
import { makeManifest } from './manifest.ts';
import { outFiles } from './out-files.ts';
import { playedSums, type Sha256 } from './played.ts';
import { readableNote } from './read-me.ts';

/** A file of the pack: its folders and name within the pack, and its bytes. */
export interface PackedFile {
  name: string;
  bytes: Uint8Array;
}

/**
 * Everything in a hand-off: a MIDI file for each phrase, one of all of them, one of each sheaf where there are folders, previews where they were
 * made, `manifest.json` for machines and `read-me.txt` for people. The same hand-off gives the same bytes.
 * @param previews by the paths of the files they are of
 */
export function packHandOff(
  handOff: HandOff,
  sha256: Sha256,
  previews: ReadonlyMap<string, Preview> = new Map(),
): PackedFile[] {
  const { leaving, each, together } = outFiles(handOff);
  const files = [...each, ...together].flatMap(({ path, bytes }) => {
    const preview = previews.get(path);
    return preview
      ? [
          { name: path, bytes },
          { name: previewPath(path), bytes: preview.wav },
        ]
      : [{ name: path, bytes }];
  });
  const encoder = new TextEncoder();
  const sums = new Map(files.map(({ name, bytes }) => [name, sha256(bytes)]));
  const played = playedSums(leaving, sha256);
  const manifest = makeManifest(handOff, leaving, together[0]?.path ?? null, sums, played);
  return [
    ...files,
    { name: 'manifest.json', bytes: encoder.encode(`${JSON.stringify(manifest, null, 2)}\n`) },
    { name: 'read-me.txt', bytes: encoder.encode(readableNote(handOff, leaving)) },
  ];
}
