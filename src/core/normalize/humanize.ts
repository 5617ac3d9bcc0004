import { withPlace, withVelocity, type ClipNote } from '../phrase/clip.ts';
import { ticksOfMs } from '../music/timeline.ts';
import { seededRandom } from '../random.ts';
import { changedNotes, type Step } from './step.ts';
import { unitsOf } from '../phrase/units.ts';

export interface HumanizeParams {
  /** Onsets stray by so many milliseconds at the most, either way. */
  ms: number;
  /** Velocities stray by so much at the most. */
  velocity?: number;
  /** The same seed strays the same way, always. */
  seed?: number;
}

/**
 * Lets onsets and velocities stray a little, as a hand does. What is struck together strays together; the order of
 * what is struck one after the other stays, and nothing leaves the clip.
 */
export const humanize: Step<HumanizeParams> = (clip, { ms, velocity = 0, seed = 1 }) => {
  const random = seededRandom(seed);
  const stray = () => 2 * random() - 1;
  const reach = ticksOfMs(clip.timeline, ms);
  let earliest = 0;
  const notes: ClipNote[] = [];
  const units = unitsOf(clip);
  for (const [k, unit] of units.entries()) {
    const [from, to] = [unit[0]!.tick, unit.at(-1)!.tick];
    const next = units[k + 1]?.[0]?.tick ?? Infinity;
    const wanted = Math.round(stray() * reach);
    // Half the way to what comes next belongs to it.
    const latest = Math.min(Math.floor((to + next) / 2), Math.max(to, clip.length - 1)) - to;
    const by = Math.min(latest, Math.max(earliest - from, wanted));
    earliest = Math.max(earliest, to + by);
    for (const note of unit) {
      const strayed = Math.round(note.velocity + stray() * velocity);
      notes.push(withVelocity(withPlace(note, note.tick + by), Math.min(127, Math.max(1, strayed))));
    }
  }
  return changedNotes(clip, { ...clip, notes }, (changed, of) =>
    ms === 0 && velocity === 0
      ? 'by nothing'
      : `${changed} of ${of} notes, up to ${ms} ms and ${velocity} of velocity, seed ${seed}`,
  );
};
