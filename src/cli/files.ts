import { readFileSync } from 'node:fs';
import { readTakes, type Take } from '../core/capture/take.ts';
import { NotMidiError } from '../core/midi/smf.ts';
import { Refusal } from './output.ts';

/** Reads the takes of a file. @throws Refusal that names the file and says why. */
export function takesOfFile(path: string): Take[] {
  let bytes: Uint8Array;
  try {
    bytes = readFileSync(path);
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code;
    const why =
      code === 'ENOENT' ? 'there is no such file' : code === 'EISDIR' ? 'it is a folder' : String(code);
    throw new Refusal(`${path}: ${why}.`);
  }
  try {
    return readTakes(bytes);
  } catch (error) {
    if (error instanceof NotMidiError) throw new Refusal(`${path}: ${error.message}`);
    throw error;
  }
}

/** The only take of a file, or of a pattern file (format 2) the first, which is said. */
export function takeOfFile(path: string, problem: (text: string) => void): Take {
  const takes = takesOfFile(path);
  const first = takes[0];
  if (!first) throw new Refusal(`${path}: the file has no tracks.`);
  if (takes.length > 1)
    problem(`${path}: ${takes.length} independent patterns (format 2); the first is used.`);
  return first;
}
