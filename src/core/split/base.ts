import type { Part, Split } from './split.ts';

/**
 * The first split of a take, as plain data: what it was found to be when it came in. Moves name its parts for ever, so it is
 * kept with them; what a better method finds later is offered, and renames nothing.
 */
export interface Base {
  /** Version of the method that found it. */
  method: number;
  parts: Part[];
  /** The part of each note: two hexadecimal digits a note, an index into `parts`. */
  owner: string;
  /** Tracks that held no notes and were left out. */
  emptyTracks: number;
}

/**
 * What finds first splits. Counted up where it finds other parts or roles than before: 2 holds names and programs against
 * what sounds.
 */
export const SPLIT_METHOD = 2;

/** @throws RangeError where a note was set aside: then it is no first split. */
export function baseOf({ parts, owner, emptyTracks }: Split): Base {
  const digits = new Array<string>(owner.length);
  for (let note = 0; note < owner.length; note++) {
    const part = owner[note]!;
    if (part < 0) throw new RangeError('A first split sets nothing aside.');
    digits[note] = HEX[part]!;
  }
  return { method: SPLIT_METHOD, parts, owner: digits.join(''), emptyTracks };
}

/** Of every number that a byte holds: a take has 256 parts at the most. */
const HEX = Array.from({ length: 256 }, (_, i) => i.toString(16).padStart(2, '0'));

export function splitOf({ parts, owner, emptyTracks }: Base): Split {
  const length = owner.length / 2;
  const owners = new Int32Array(length);
  for (let note = 0; note < length; note++)
    owners[note] = Number.parseInt(owner.slice(note * 2, note * 2 + 2), 16);
  return {
    parts: parts.map((part) => ({ ...part })),
    setAside: [],
    owner: owners,
    locked: new Uint8Array(length),
    refused: [],
    emptyTracks,
  };
}
