import { mkdirSync, writeFileSync } from 'node:fs';
import { basename, extname, join } from 'node:path';
import { partFiles } from '../core/exchange/part-files.ts';
import { writeMidiFile } from '../core/midi/write.ts';
import type { Take } from '../core/capture/take.ts';
import { uniqueNames } from '../core/phrase/naming.ts';
import { divisionMove } from '../core/split/division.ts';
import { applyMoves } from '../core/split/moves.ts';
import { mended, proposalsFor } from '../core/split/proposals.ts';
import type { Role } from '../core/split/roles.ts';
import { playingParts, splitTake, type Split } from '../core/split/split.ts';
import { tallyOf } from '../core/split/tally.ts';
import { takeOfFile } from './files.ts';
import { CERTAIN } from './opened-file.ts';
import { ofEach, table, type Output, type Said } from './output.ts';

export interface SplitOptions {
  out?: string;
  /** Each kit into its pieces. */
  pieces?: boolean;
  /** Each keyboard part into two hands. */
  hands?: boolean;
  /** Nothing but what track, channel and program say. */
  asIs?: boolean;
}

/**
 * `split FILE... [--pieces] [--hands] [--as-is] [--out DIR]`: the parts of files, and the files of them. Of several files, each has
 * a folder of its own in DIR. Returns the exit code.
 */
export function splitCommand(files: readonly string[], options: SplitOptions, out: Output): number {
  const folders = files.length > 1 && options.out ? foldersFor(files, options.out) : undefined;
  return ofEach(files, out, (file) => {
    const folder = folders?.get(file) ?? options.out;
    return splitOfFile(file, { ...options, ...(folder ? { out: folder } : {}) }, (text) => out.problem(text));
  });
}

/** A folder for each file, named after it; two of one name are told apart by number. */
function foldersFor(files: readonly string[], out: string): Map<string, string> {
  const folders = uniqueNames(
    files.map((file) => basename(file, extname(file))),
    ' ',
  );
  return new Map(files.map((file, i) => [file, join(out, folders[i]!)]));
}

function splitOfFile(file: string, options: SplitOptions, problem: (text: string) => void): Said {
  const take = takeOfFile(file, problem);
  const split = splitAsAsked(take, options);
  const proposals = proposalsFor(take, split).map(({ text, why }) => ({ text, why }));
  const tally = tallyOf(split);
  const written = options.out ? writeParts(partFiles(take, split), options.out) : undefined;
  const parts = playingParts(split).map(({ part, index }) => ({
    name: part.name,
    role: part.role,
    certainty: part.certainty,
    runnerUp: part.runnerUp,
    channel: part.channel + 1,
    program: part.program + 1,
    notes: tally.parts[index]!,
    from: part.from.map((from) => ({
      track: from.track + 1,
      channel: from.channel + 1,
      program: (from.program ?? 0) + 1,
    })),
    reasons: part.reasons,
  }));
  const answer = {
    file,
    parts,
    setAside: split.setAside.map(({ reason }, i) => ({ reason, notes: tally.setAside[i]! })),
    tally: { in: tally.in, parts: tally.inParts, setAside: tally.aside, balanced: tally.balanced },
    emptyTracks: split.emptyTracks,
    proposals,
    ...(written ? { written } : {}),
  };
  return {
    answer,
    text: [
      table([
        ['part', 'role', 'sure', 'channel', 'program', 'notes', 'why'],
        ...parts.map((part) => [
          part.name,
          part.role,
          part.certainty,
          part.channel,
          part.program,
          part.notes,
          part.reasons.join('; '),
        ]),
      ]),
      `Tally: ${tally.in} notes came in, ${tally.inParts} in parts, ${tally.aside} set aside; ` +
        `${tally.balanced ? 'balanced' : 'NOT balanced'}. ${split.emptyTracks} tracks without notes left out.`,
      ...proposals.map(({ text }) => `Worth a look: ${text}`),
      ...(written ? [`Written: ${written.join(', ')}`] : []),
    ].join('\n'),
  };
}

function splitAsAsked(take: Take, options: SplitOptions): Split {
  let split = options.asIs ? splitTake(take) : mended(take, splitTake(take), CERTAIN);
  const divide = (roles: readonly Role[], by: 'pieces' | 'hands') => {
    for (const { part } of playingParts(split).filter(({ part: { role } }) => roles.includes(role))) {
      const move = divisionMove(take, split, part.id, { by });
      if (move) split = applyMoves(split, take.notes, [move]);
    }
  };
  if (options.pieces) divide(['drums'], 'pieces');
  if (options.hands) divide(['keys', 'other'], 'hands');
  return split;
}

function writeParts(files: ReturnType<typeof partFiles>, folder: string): string[] {
  mkdirSync(folder, { recursive: true });
  return files.map(({ file, midi }) => {
    const path = join(folder, file);
    writeFileSync(path, writeMidiFile(midi));
    return path;
  });
}
