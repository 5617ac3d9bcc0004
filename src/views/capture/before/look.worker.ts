/** Files and archives looked into and heard in a thread of their own, before they are taken in. */
import { expose } from 'comlink';
import {
  archiveReader,
  filesWithin,
  isArchive,
  LARGEST_FILE,
  TOO_LARGE,
  type ArchiveTold,
} from '../../../core/capture/archive.ts';
import { lookInto, type Looked } from '../../../core/capture/look.ts';
import { readTakes } from '../../../core/capture/take.ts';
import { hexOf } from '../../../core/hex.ts';
import { splitTake } from '../../../core/split/split.ts';
import type { Listening } from '../../../sound/player.ts';
import { wholeTake } from '../../shared/takes/take-lanes.ts';
import type { NamedFile } from '../named-files.ts';

/** A file, or an entry of an archive, as it was found. */
export interface FoundFile {
  /** Its place among all that were found. */
  id: string;
  /** By which it will be known: archive and folders before it. */
  name: string;
  /** What it holds, or why it cannot be taken in. */
  held: Looked | string;
  /** By which the library knows it again: SHA-256, hexadecimal. */
  sha256?: string;
}

/** What is looked into in a page; an archive that holds more is taken in as a whole. */
const LIMITS = { files: 5000, bytes: 256 * 1024 * 1024, depth: 3 };

/** Found at least so often, in milliseconds: a row does not wait for the last. */
const TOLD_EVERY = 250;

/** Bytes of an archive at a time. */
const PIECE = 64 * 1024;

const kept = new Map<string, { name: string; bytes: Uint8Array<ArrayBuffer> }>();
let stopped = false;

const bytesOf = async (file: Blob) => new Uint8Array(await file.arrayBuffer());

/** Messages to this thread, such as to stop, are heard between two pieces. */
async function isStopped(): Promise<boolean> {
  await new Promise((resolve) => setTimeout(resolve));
  return stopped;
}

/** Looks into all files, telling what was found as it goes on. */
async function look(files: readonly NamedFile[], onFound: (found: FoundFile[]) => void): Promise<void> {
  let found: FoundFile[] = [];
  let told = performance.now();
  // One after the other: checksums take a moment, and what is found stays in its order.
  let telling = Promise.resolve();
  const tell = () => {
    const these = found;
    telling = telling.then(async () => onFound(await Promise.all(these.map(withChecksum))));
    found = [];
    told = performance.now();
  };
  const add = (name: string, held: Looked | string, bytes = new Uint8Array()) => {
    const id = String(kept.size);
    kept.set(id, { name, bytes });
    found.push({ id, name, held });
    if (performance.now() - told > TOLD_EVERY) tell();
  };
  const into = {
    file: (name: string, bytes: Uint8Array<ArrayBuffer>) => add(name, lookInto(bytes), bytes),
    refused: (name: string, reason: string) => add(name, reason),
  };
  for (const { file, name } of files) {
    if (await isStopped()) break;
    if (isArchive(await bytesOf(file.slice(0, 4)))) await lookThrough(file, name, into);
    else if (file.size > LARGEST_FILE) add(name, TOO_LARGE);
    else into.file(name, await bytesOf(file));
  }
  tell();
  await telling;
}

async function withChecksum(file: FoundFile): Promise<FoundFile> {
  if (typeof file.held === 'string') return file;
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', kept.get(file.id)!.bytes));
  return { ...file, sha256: hexOf(digest) };
}

/** Looks into what an archive holds, a piece of it at a time. */
async function lookThrough(file: File, name: string, into: ArchiveTold): Promise<void> {
  const reader = archiveReader(name, LIMITS, {
    ...into,
    file: (inner, bytes) => filesWithin(inner, bytes, LIMITS, into, 1),
  });
  for (let at = 0; at < file.size; at += PIECE) {
    if (await isStopped()) return;
    if (!reader.push(await bytesOf(file.slice(at, at + PIECE)))) break;
  }
  reader.end();
}

/** What is heard of a file: all its parts, or of a file of patterns the first. */
function hear(id: string): Listening['lanes'] {
  const [take] = readTakes(kept.get(id)!.bytes);
  return wholeTake(take!, splitTake(take!), null);
}

/** The files themselves. */
function filesOf(ids: readonly string[]): { name: string; bytes: Uint8Array<ArrayBuffer> }[] {
  return ids.map((id) => kept.get(id)!);
}

const worker = { look, hear, filesOf, stop: () => void (stopped = true) };
export type LookWorker = typeof worker;
expose(worker);
