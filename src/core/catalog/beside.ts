import { ROLES, type Role } from '../split/roles.ts';
import { playedNotes, type Clip } from '../phrase/clip.ts';
import { unitsOf } from '../phrase/units.ts';
import { PLACES, placesOf, swingOf } from './features.ts';
import type { Occupied } from './fit.ts';

/** What plays along, as far as it counts for what suits it: where it plays, and how it swings (long share of a pair of eighths, -1 unknown). */
export interface Beside extends Occupied {
  swing: number;
}

/** Where a part plays that is no phrase of the library: one of a take, or a section of a weave. Null where it plays nothing. */
export function besideOf(clip: Clip): Beside | null {
  const pitches = playedNotes(clip).map(({ pitch }) => pitch);
  if (pitches.length === 0) return null;
  return {
    role: clip.role,
    low: pitches.reduce((a, b) => Math.min(a, b)),
    high: pitches.reduce((a, b) => Math.max(a, b)),
    places: placesOf(
      clip,
      unitsOf(clip).map((unit) => unit[0]!.tick),
    ),
    swing: swingOf(clip),
  };
}

/** Short enough for an address: role, lowest and highest pitch, swing (-1 unknown) and places in thousandths, "bass.28.45.-1.250.0.250". */
export function besideInShort({ role, low, high, places, swing }: Beside): string {
  const thousandths = [swing, ...Array.from(places)].map((one) => (one < 0 ? -1 : Math.round(1000 * one)));
  return [role, low, high, ...thousandths].join('.');
}

/** What `besideInShort` wrote; null where it is no such text. */
export function readBeside(text: string): Beside | null {
  const [role, ...rest] = text.split('.');
  const numbers = rest.map(Number);
  if (!ROLES.includes(role as Role) || numbers.length !== 3 + PLACES) return null;
  if (numbers.some((one) => !Number.isInteger(one) || one < -1 || one > 1000)) return null;
  const [low, high, swing, ...places] = numbers as [number, number, number, ...number[]];
  if (low < 0 || high > 127 || low > high) return null;
  return {
    role: role as Role,
    low,
    high,
    swing: swing < 0 ? -1 : swing / 1000,
    places: places.map((one) => one / 1000),
  };
}
