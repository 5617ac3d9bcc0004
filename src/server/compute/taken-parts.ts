import { zipSync, type Zippable } from 'fflate';
import {
  barsOfBlock,
  joinBlocks,
  roundsThatFill,
  type Block,
  type LastRound,
} from '../../core/capture/blocks.ts';
import { joinPasses } from '../../core/capture/passes.ts';
import { partFiles, partsInOneFile } from '../../core/exchange/part-files.ts';
import { writeMidiFile } from '../../core/midi/write.ts';
import type { Key } from '../../core/music/key.ts';
import { LibraryError } from '../library/errors.ts';
import { openStored, originalOf, type StoredTake } from './stored-take.ts';

/** One part of a take as a file, as it sounds. @throws LibraryError 404 where the part has no notes or is none. */
export function exportedPart(
  stored: StoredTake,
  part: string,
  key: Key | null,
): { bytes: Uint8Array; file: string } {
  const { take, split } = openStored(stored);
  const found = partFiles(take, split, 'sounding', key).find((candidate) => candidate.part === part);
  if (!found) throw new LibraryError(404, 'There is no such part, or it has no notes.');
  return { bytes: writeMidiFile(found.midi), file: found.file };
}

/** All parts of a take, as they sound: a file a part in a ZIP, what is set aside beside them, or all as one file. */
export function exportedParts(
  stored: StoredTake,
  as: 'zip' | 'file',
  name: string,
  key: Key | null,
): Uint8Array {
  const { take, split } = openStored(stored);
  if (as === 'file') return writeMidiFile(partsInOneFile(take, split, name, key));
  const files = partFiles(take, split, 'sounding', key).map(({ file, midi }) => [file, writeMidiFile(midi)]);
  return zipSync(Object.fromEntries(files) as Zippable);
}

/** Several takes that are passes of one performance as one file, all from bar one. */
export function joinedPasses(
  name: string,
  passes: readonly { name: string; stored: StoredTake }[],
): Uint8Array {
  return writeMidiFile(
    joinPasses(
      name,
      passes.map((pass) => ({ name: pass.name, midi: originalOf(pass.stored).file })),
    ),
  );
}

/** Takes as they stand, one after another: as many bars of each as it has. */
export function joinedBlocks(
  name: string,
  blocks: readonly { name: string; stored: StoredTake }[],
): { bytes: Uint8Array; bars: number } {
  const laid = blocks.map(({ name: block, stored }): Block => {
    const { take } = openStored(stored);
    return { name: block, take, bars: barsOfBlock(take) };
  });
  return {
    bytes: writeMidiFile(joinBlocks(name, laid)),
    bars: laid.reduce((sum, { bars }) => sum + bars, 0),
  };
}

/** A take as it stands, repeated until so many bars are filled. */
export function filledBars(name: string, stored: StoredTake, bars: number, last: LastRound): Uint8Array {
  return writeMidiFile(joinBlocks(name, roundsThatFill({ name, take: openStored(stored).take }, bars, last)));
}
