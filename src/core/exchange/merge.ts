import { upperMedian } from '../numbers.ts';
import type { Role } from '../split/roles.ts';
import { plural } from '../words.ts';
import type { Card } from './card.ts';
import { doneWords, type Returned } from './returned.ts';

/** What became of a phrase of a pack: on their side, on ours, on both; what asks for a decision first. */
export const FATES = [
  'both changed',
  'theirs changed',
  'new',
  'not sent back',
  'ours changed',
  'same',
] as const;
export type Fate = (typeof FATES)[number];

/** What can be done with what came in: nothing but its tags, a child of ours, in the place of ours, nothing, a phrase beside ours. */
export const MERGE_WAYS = ['same', 'child', 'theirs', 'ours', 'both'] as const;
export type MergeWay = (typeof MERGE_WAYS)[number];

/** What comes along with the notes of a phrase that is taken in: its tags, its chords, and the sound it is played on with level and place. */
export const ALONG = ['tags', 'changes', 'sound'] as const;
export type Along = Record<(typeof ALONG)[number], boolean>;

export const ALL_ALONG: Along = { tags: true, changes: true, sound: true };

/** A phrase of ours at the moment when it went out, or had been taken in. */
export interface Crossing {
  /** Of our phrase then. */
  hash: string;
  /** Of what was played in the file; null where that was not kept. */
  played: string | null;
}

/** What decides: a phrase now, as it crossed, and as it came in. */
export interface Compared {
  /** Of our phrase now; null where we have none of that id. */
  ours: string | null;
  /** What ours would play if it left in the same way; null where that is not known. */
  oursPlayed: string | null;
  /** What is played in the file that came in; null where there is no file. */
  theirs: string | null;
  /** Latest first. */
  crossings: readonly Crossing[];
  /** What the pack itself says of the phrase as it was packed, where it was packed here. */
  packed: Crossing | null;
}

/**
 * What became of a phrase, by three hashes: ours now, ours when it crossed, theirs. What both sides changed to the same is the same; what never
 * crossed and is other on both sides has changed on both.
 */
export function fateOf({ ours, oursPlayed, theirs, crossings, packed }: Compared): Fate {
  if (theirs === null) return 'not sent back';
  if (ours === null) return 'new';
  if (oursPlayed === theirs) return 'same';
  const base =
    crossings.find(({ played }) => played === theirs) ??
    packed ??
    crossings.find(({ played }) => played !== null);
  if (!base) return 'both changed';
  const [oursChanged, theirsChanged] = [base.hash !== ours, base.played !== theirs];
  if (oursChanged && theirsChanged) return 'both changed';
  if (oursChanged) return 'ours changed';
  return theirsChanged ? 'theirs changed' : 'same';
}

/** Ways that there are for a row; the first is what is done where nobody chooses. */
export function waysFor(fate: Fate): readonly MergeWay[] {
  switch (fate) {
    case 'theirs changed':
    case 'both changed':
      return ['child', 'theirs', 'ours', 'both'];
    case 'new':
      return ['both', 'ours'];
    default:
      return ['ours'];
  }
}

/** What is done with a row where one way is chosen for all: what it does not have is left as it is. */
export function wayFor(fate: Fate, way: MergeWay): MergeWay {
  if (fate === 'new') return way === 'same' ? 'ours' : 'both';
  return waysFor(fate).includes(way) ? way : 'ours';
}

/** What became of a phrase, in words: against ours, where there is one. */
export function mergeWords(fate: Fate, notes: number, returned: Returned | null): string {
  switch (fate) {
    case 'same':
      return 'as it is here';
    case 'ours changed':
      return 'changed here since it left';
    case 'new':
      return `${plural(notes, 'note')} that were not here`;
    case 'not sent back':
      return 'did not come back';
    default:
      return (returned && doneWords(returned)) || 'played otherwise';
  }
}

/** What came back alike later or earlier: by how many milliseconds, and in which roles. */
export interface Lateness {
  ms: number;
  roles: Role[];
}

/** Fewer than this are no system. */
const SYSTEM = 2;

/** Two delays are one where they are so near, in milliseconds. */
const AS_LATE = 3;

/** Whether all that was changed came back as late: then it is their place, and no playing. */
export function latenessOf(rows: readonly { role: Role; fate: Fate; lateMs: number }[]): Lateness | null {
  const changed = rows.filter(({ fate }) => fate === 'theirs changed' || fate === 'both changed');
  const ms = upperMedian(changed.map(({ lateMs }) => lateMs));
  const isOne = changed.every(({ lateMs }) => Math.abs(lateMs - ms) <= AS_LATE);
  if (changed.length < SYSTEM || !isOne || Math.abs(ms) <= AS_LATE) return null;
  return { ms, roles: [...new Set(changed.map(({ role }) => role))] };
}

/** A card by which what leaves is as much earlier as it came back later. */
export function earlier(card: Card, { ms, roles }: Lateness): Card {
  const shifted = roles.map((role) => [role, { ...card.roles[role], ms: (card.roles[role]?.ms ?? 0) - ms }]);
  return { ...card, roles: { ...card.roles, ...Object.fromEntries(shifted) } };
}
