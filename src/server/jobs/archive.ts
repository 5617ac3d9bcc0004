import { createReadStream } from 'node:fs';
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Unzip, UnzipInflate } from 'fflate';
import { LARGEST_FILE } from '../library/keeping/derive.ts';
import type { NewItem } from '../library/jobs.ts';

/** What one archive may hold: more is a mistake or an attack. */
export const ARCHIVE_LIMITS = {
  files: 20_000,
  /** Bytes of all files together. */
  bytes: 1024 * 1024 * 1024,
  /** Archives within archives. */
  depth: 3,
} as const;

/** The largest archive, in bytes. */
export const LARGEST_ARCHIVE = 256 * 1024 * 1024;

/** Endings of files that are looked into; what has none is looked into as well. */
const TAKEN = /(\.(midi?|smf|kar|rmi|zip)|(^|\/)[^./]+)$/i;

/** What systems put into archives unasked. */
const NOISE = /(^|\/)(__MACOSX\/|\.[^/]*$|thumbs\.db$|desktop\.ini$)/i;

/** Whether bytes begin like a ZIP archive, an empty one included (APPNOTE 4.3). */
export function isArchive(bytes: Uint8Array): boolean {
  return (
    bytes[0] === 0x50 && bytes[1] === 0x4b && (bytes[2] === 3 || bytes[2] === 5) && bytes[3] === bytes[2]! + 1
  );
}

export interface Opened {
  items: NewItem[];
  refused: { file: string; reason: string }[];
}

/**
 * Unpacks an archive into numbered files of a folder. Names inside it are kept as labels and never used as paths.
 * Sizes are counted while unpacking, whatever the archive claims. Files that go beyond the limits are refused by name.
 */
export async function openArchive(
  path: string,
  label: string,
  depth: number,
  folder: string,
  limits: { files: number; bytes: number; depth: number } = ARCHIVE_LIMITS,
): Promise<Opened> {
  const opened: Opened = { items: [], refused: [] };
  const refuse = (file: string, reason: string) => opened.refused.push({ file, reason });
  if (depth >= limits.depth) {
    refuse(label, `Archives are opened ${limits.depth} deep at most.`);
    return opened;
  }
  await mkdir(folder, { recursive: true });
  const writes: Promise<void>[] = [];
  let bytes = 0;
  let seen = 0;
  let problem: string | undefined;
  const unzip = new Unzip((entry) => {
    if (entry.name.endsWith('/') || NOISE.test(entry.name)) return;
    const file = `${label}/${cleaned(entry.name)}`;
    if (++seen > limits.files) {
      problem ??= `holds more than ${limits.files.toLocaleString('en')} files; the rest was left out.`;
      return;
    }
    if (!TAKEN.test(entry.name)) return void refuse(file, 'By its name this is no MIDI file and no archive.');
    const pieces: Uint8Array[] = [];
    let size = 0;
    entry.ondata = (error, piece, final) => {
      if (size < 0) return;
      const tell = (reason: string) => {
        refuse(file, reason);
        size = -1;
        pieces.length = 0;
        entry.terminate();
      };
      if (error) return tell('Its part of the archive is damaged.');
      size += piece.length;
      bytes += piece.length;
      if (size > LARGEST_FILE) return tell(`It is larger than ${LARGEST_FILE / 1024 / 1024} MB.`);
      if (bytes > limits.bytes) {
        problem ??= `unpacks to more than ${(limits.bytes / 1024 / 1024).toLocaleString('en')} MB; the rest was left out.`;
        return tell('The archive is too large.');
      }
      pieces.push(piece);
      if (!final) return;
      const target = join(folder, String(opened.items.length));
      opened.items.push({ file, path: target, depth: depth + 1 });
      writes.push(writeFile(target, Buffer.concat(pieces)));
    };
    try {
      entry.start();
    } catch {
      refuse(file, 'It is packed in a way that cannot be opened here.');
    }
  });
  unzip.register(UnzipInflate);
  try {
    for await (const piece of createReadStream(path, { highWaterMark: 256 * 1024 })) {
      unzip.push(piece as Buffer, false);
      // What is unpacked goes to the disk before more is unpacked: memory stays flat.
      await Promise.all(writes.splice(0));
      if (problem) break;
    }
    if (!problem) unzip.push(new Uint8Array(0), true);
  } catch {
    problem ??= 'is damaged; what stands before the damage was taken.';
  }
  await Promise.all(writes);
  if (problem) refuse(label, `The archive ${problem}`);
  if (opened.items.length === 0 && opened.refused.length === 0) refuse(label, 'The archive holds no files.');
  return opened;
}

/** A name from an archive as a label: no control characters, no way up, forward strokes. */
function cleaned(name: string): string {
  return name
    .replace(/\\/g, '/')
    .replace(/[\u0000-\u001f\u007f]/g, '')
    .split('/')
    .filter((step) => step !== '..' && step !== '.' && step !== '')
    .join('/')
    .slice(-400);
}
