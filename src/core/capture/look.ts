import { NotMidiError } from '../midi/smf.ts';
import type { Role } from '../split/roles.ts';
import { playingParts, splitTake } from '../split/split.ts';
import { takeFacts } from './facts.ts';
import { readTakes } from './take.ts';

/** What a file holds, before anybody takes it in. */
export interface Looked {
  notes: number;
  bars: number;
  seconds: number;
  /** At its beginning; null where it gives none. */
  bpm: number | null;
  parts: { name: string; role: Role }[];
}

/** Looks into a file: its facts and its parts, or the sentence why it cannot be taken in. Of a file of patterns, the first is looked at. */
export function lookInto(bytes: Uint8Array): Looked | string {
  try {
    const [take] = readTakes(bytes);
    const { notes, bars, seconds, tempos } = takeFacts(take!);
    const parts = playingParts(splitTake(take!)).map(({ part: { name, role } }) => ({ name, role }));
    return { notes, bars, seconds, bpm: tempos[0]?.bpm ?? null, parts };
  } catch (error) {
    if (error instanceof NotMidiError) return error.message;
    throw error;
  }
}
