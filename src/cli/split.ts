import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { partFiles } from '../core/exchange/part-files.ts';
import { writeMidiFile } from '../core/midi/write.ts';
import { splitTake } from '../core/split/split.ts';
import { tallyOf } from '../core/split/tally.ts';
import { takeOfFile } from './files.ts';
import { table, type Output } from './output.ts';

/** `split FILE [--out DIR]`: the parts of a file, and the files of them. Returns the exit code. */
export function splitCommand(file: string, options: { out?: string }, out: Output): number {
  const take = takeOfFile(file, (text) => out.problem(text));
  const split = splitTake(take);
  const tally = tallyOf(split);
  const written = options.out ? writeParts(partFiles(take, split), options.out) : undefined;
  const parts = split.parts.map((part, i) => ({
    name: part.name,
    role: part.role,
    certainty: part.certainty,
    runnerUp: part.runnerUp,
    channel: part.channel + 1,
    program: part.program + 1,
    notes: tally.parts[i]!,
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
    ...(written ? { written } : {}),
  };
  if (out.json) out.answer(JSON.stringify(answer));
  else {
    out.answer(
      [
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
        ...(written ? [`Written: ${written.join(', ')}`] : []),
      ].join('\n'),
    );
  }
  return 0;
}

function writeParts(files: ReturnType<typeof partFiles>, folder: string): string[] {
  mkdirSync(folder, { recursive: true });
  return files.map(({ file, midi }) => {
    const path = join(folder, file);
    writeFileSync(path, writeMidiFile(midi));
    return path;
  });
}
