import { Unzip, UnzipInflate } from 'fflate';

/** The largest file taken in, in bytes. A full album of dense MIDI is a tenth of it. */
export const LARGEST_FILE = 16 * 1024 * 1024;

/** What is said of a larger one. */
export const TOO_LARGE = `This file is larger than ${LARGEST_FILE / 1024 / 1024} MB.`;

/** What one archive may hold: more is a mistake or an attack. */
export interface ArchiveLimits {
  files: number;
  /** Bytes of all files together. */
  bytes: number;
}

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

/** Who is told of what an archive holds. */
export interface ArchiveTold {
  file: (file: string, bytes: Uint8Array<ArrayBuffer>) => void;
  refused: (file: string, reason: string) => void;
}

/** An archive that is read as its bytes come. */
export interface ArchiveReader {
  /** False where no more bytes are wanted. */
  push(piece: Uint8Array): boolean;
  /** All bytes have come: what is wrong with the whole is told. */
  end(): void;
}

/**
 * Unpacks an archive as it comes. Names inside it are labels, never paths. Sizes are counted while unpacking, whatever the archive claims. Files that
 * go beyond the limits are refused by name.
 */
export function archiveReader(label: string, limits: ArchiveLimits, told: ArchiveTold): ArchiveReader {
  let [bytes, seen, count] = [0, 0, 0];
  let problem: string | undefined;
  const refuse = (file: string, reason: string) => {
    count++;
    told.refused(file, reason);
  };
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
      count++;
      told.file(file, joined(pieces, size));
    };
    try {
      entry.start();
    } catch {
      refuse(file, 'It is packed in a way that cannot be opened here.');
    }
  });
  unzip.register(UnzipInflate);
  const push = (piece: Uint8Array, final: boolean) => {
    try {
      unzip.push(piece, final);
    } catch {
      problem ??= 'is damaged; what stands before the damage was taken.';
    }
  };
  return {
    push(piece) {
      if (!problem) push(piece, false);
      return !problem;
    },
    end() {
      if (!problem) push(new Uint8Array(0), true);
      if (problem) refuse(label, `The archive ${problem}`);
      if (count === 0) refuse(label, 'The archive holds no files.');
    },
  };
}

function joined(pieces: readonly Uint8Array[], size: number): Uint8Array<ArrayBuffer> {
  const whole = new Uint8Array(size);
  let at = 0;
  for (const piece of pieces) {
    whole.set(piece, at);
    at += piece.length;
  }
  return whole;
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

/** Everything in a file: itself, or where it is an archive what that holds, archives within archives included. */
export function filesWithin(
  name: string,
  bytes: Uint8Array<ArrayBuffer>,
  limits: ArchiveLimits & { depth: number },
  told: ArchiveTold,
  depth = 0,
): void {
  if (!isArchive(bytes)) return told.file(name, bytes);
  if (depth >= limits.depth) return told.refused(name, `Archives are opened ${limits.depth} deep at most.`);
  const reader = archiveReader(name, limits, {
    ...told,
    file: (file, inner) => filesWithin(file, inner, limits, told, depth + 1),
  });
  reader.push(bytes);
  reader.end();
}
