import type { Take } from '../capture/take.ts';
import { UNPITCHED } from '../split/roles.ts';
import type { Split } from '../split/split.ts';
import { findKeys, pitchClassDurations, type KeyFinding } from './key.ts';

/** Keys of a whole take, likeliest first: what is pitched and in a part counts, key switches left out, a whole note at the most. */
export function findTakeKey(take: Take, split: Split): KeyFinding[] {
  const pitched = split.parts.map((part) => !UNPITCHED.has(part.role));
  const longest = take.timing.timeline.ppq * 4;
  return findKeys(
    pitchClassDurations(take.notes, (i) => pitched[split.owner[i]!] === true && !split.locked[i], longest),
  );
}
