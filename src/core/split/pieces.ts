import type { Take } from '../capture/take.ts';
import { meantLengths } from './meant-lengths.ts';
import { notesByPart, type Split } from './split.ts';

/** Share of the time in which two tracks of one instrument may sound together: a note that rings on. */
const MAY_OVERLAP = 0.1;

/** What sounds for more quarter notes than this hangs: its end was lost. */
const LONGEST = 12;

/**
 * Groups of parts (indices) that hold one instrument in pieces: the same port, channel, bank and program on
 * several tracks, never sounding together. Largest groups only.
 */
export function piecesOfOne(take: Take, split: Split): number[][] {
  const notes = notesByPart(split);
  const groups = new Map<string, number[]>();
  split.parts.forEach((part, index) => {
    const from = part.from[0];
    if (!from || part.from.length > 1 || notes[index]!.length === 0) return;
    const key = `${from.port}/${part.channel}/${from.bank}/${from.program ?? 'none'}`;
    groups.set(key, [...(groups.get(key) ?? []), index]);
  });
  return [...groups.values()].flatMap((group) => {
    const apart: number[] = [];
    for (const index of group) {
      if (
        apart.every(
          (other) =>
            split.parts[other]!.from[0]!.track !== split.parts[index]!.from[0]!.track &&
            overlap(take, notes[other]!, notes[index]!) <= MAY_OVERLAP,
        )
      ) {
        apart.push(index);
      }
    }
    return apart.length > 1 ? [apart] : [];
  });
}

/** Share of the smaller one's notes that begin while the other sounds, clear of what merely rings on. */
function overlap(take: Take, one: readonly number[], other: readonly number[]): number {
  const { notes, timing } = take;
  const ringing = timing.timeline.ppq / 4;
  const [few, many] = one.length <= other.length ? [one, other] : [other, one];
  if (few.length === 0) return 1;
  // A note that hangs gives its end to others: as they were meant, they do not overlap.
  const lengths = meantLengths(take, many);
  // One that hangs itself tells nothing of where the other may play.
  const soundingTicks = (length: number) => (length > LONGEST * timing.timeline.ppq ? 0 : length);
  let next = 0;
  let soundsUntil = -Infinity;
  const within = few.filter((i) => {
    const at = notes.tick[i]!;
    for (; next < many.length && notes.tick[many[next]!]! - ringing / 4 <= at; next++) {
      const j = many[next]!;
      soundsUntil = Math.max(
        soundsUntil,
        notes.tick[j]! + Math.max(ringing / 4, soundingTicks(lengths.get(j)!) - ringing),
      );
    }
    return at < soundsUntil;
  });
  return within.length / few.length;
}
