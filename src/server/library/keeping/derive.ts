import { harmonyOf } from '../../../core/analyze/analysis.ts';
import type { KeyFinding } from '../../../core/analyze/key.ts';
import { READING_METHOD } from '../../../core/analyze/reading.ts';
import { takeAccount, type Account } from '../../../core/analyze/account.ts';
import { takeFacts, type TakeFacts } from '../../../core/capture/facts.ts';
import type { CaptureFacts } from '../../../core/capture/recording.ts';
import { readTakes, type Take } from '../../../core/capture/take.ts';
import { NotMidiError } from '../../../core/midi/smf.ts';
import { baseOf, type Base } from '../../../core/split/base.ts';
import { mendsFor } from '../../../core/split/proposals.ts';
import type { Role } from '../../../core/split/roles.ts';
import { splitTake, type Split } from '../../../core/split/split.ts';
import { tallyOf } from '../../../core/split/tally.ts';
import type { TakeAsked } from '../../db/schema.ts';
import { LARGEST_FILE, TOO_LARGE } from '../../../core/capture/archive.ts';
import { LibraryError } from '../errors.ts';

/** Takes of one file at the most: patterns of a format 2 file. */
const MOST_PATTERNS = 1024;

/** Keys kept with a take: the likeliest and its runners-up. */
const KEYS_KEPT = 4;

/** A row of the parts table, but for its take. */
export interface DerivedPart {
  key: string;
  position: number;
  name: string;
  role: Role;
  certainty: number;
  channel: number;
  program: number;
  notes: number;
}

/** All that the library keeps of a take besides its bytes. Plain data: it comes out of a worker thread. */
export interface DerivedTake {
  pattern: number;
  facts: TakeFacts;
  keys: KeyFinding[];
  /** Version of the methods that found the keys. */
  keysMethod: number;
  account: Account;
  parts: DerivedPart[];
  base: Base;
  /** How many proposals would mend it. */
  proposals: number;
}

/**
 * The sounding takes of a file.
 *
 * @throws LibraryError 413 where it is too large, 422 where it is no MIDI or holds no notes.
 */
export function deriveTakes(
  bytes: Uint8Array,
  known: { asked?: TakeAsked; capture?: CaptureFacts } = {},
): DerivedTake[] {
  if (bytes.length > LARGEST_FILE) {
    throw new LibraryError(413, TOO_LARGE);
  }
  const all = readOrRefuse(bytes).flatMap((take, pattern) =>
    take.notes.length > 0 ? [{ take, pattern }] : [],
  );
  const sounding = all.slice(0, MOST_PATTERNS);
  if (sounding.length === 0)
    throw new LibraryError(422, 'This file holds no notes: there is nothing to take in.');
  if (all.length > MOST_PATTERNS)
    sounding[0]!.take.repairs.push({
      code: 'too-many-changes',
      message: `Of ${all.length.toLocaleString('en')} patterns the first ${MOST_PATTERNS.toLocaleString('en')} are taken in; the bytes of all are kept.`,
      track: 0,
      tick: 0,
    });
  return sounding.map(({ take, pattern }) => {
    const split = splitTake(take);
    return {
      pattern,
      facts: factsKept(take),
      keys: keysKept(harmonyOf(take, split).keys),
      keysMethod: READING_METHOD,
      account: takeAccount(take, split, known.asked ?? {}, known.capture),
      parts: derivedParts(split),
      base: baseOf(split),
      proposals: countMends(take, split),
    };
  });
}

/** Changes of one kind, and streams, that are kept with a take for its lists: what is beyond is read from the file. */
const FACTS_KEPT = 200;

/** What is to be known of a take at a glance, bounded: a file of a hundred thousand tempo changes has no longer facts than another. */
export function factsKept(take: Take): TakeFacts {
  const facts = takeFacts(take);
  const { tempos, meters, keys, markers, streams, repairs } = facts;
  const first = <Item>(list: Item[]) => list.slice(0, FACTS_KEPT);
  return {
    ...facts,
    tempos: first(tempos),
    meters: first(meters),
    keys: first(keys),
    markers: first(markers),
    streams: first(streams),
    repairs: first(repairs),
  };
}

/** The likeliest, and its runners-up. */
export function keysKept(keys: readonly KeyFinding[]): KeyFinding[] {
  return keys.slice(0, KEYS_KEPT);
}

function readOrRefuse(bytes: Uint8Array): Take[] {
  try {
    return readTakes(bytes);
  } catch (error) {
    if (error instanceof NotMidiError) throw new LibraryError(422, error.message);
    throw error;
  }
}

/** How many proposals would mend a split as it stands. */
export function countMends(take: Take, split: Split): number {
  return mendsFor(take, split).length;
}

/** The parts of a split that have notes. */
export function derivedParts(split: Split): DerivedPart[] {
  const tally = tallyOf(split);
  return split.parts.flatMap((part, position) =>
    tally.parts[position] === 0
      ? []
      : [
          {
            key: part.id,
            position,
            name: part.name,
            role: part.role,
            certainty: part.certainty,
            channel: part.channel,
            program: part.program,
            notes: tally.parts[position]!,
          },
        ],
  );
}
