import { secondsToTicks, tempoAt, ticksToSeconds, type Timeline } from '../music/timeline.ts';
import { withPlace, type Clip } from '../phrase/clip.ts';
import { withPickupBar } from './pickup.ts';
import { changedNotes, count, type Step } from './step.ts';

export interface ShiftParams {
  /** Milliseconds, negative for earlier. */
  ms: number;
  /**
   * What becomes of a note that would start before the first bar: it starts with it, is played at the end of the loop, or
   * becomes a pickup in a bar of its own.
   */
  early?: 'hold' | 'wrap' | 'pickup';
}

/** Moves every note earlier or later in time. On a loop, what would leave it at one end comes back at the other. */
export const shift: Step<ShiftParams> = (given, { ms, early = 'hold' }) => {
  if (ms === 0) return changedNotes(given, given, () => 'by nothing');
  const leads = (clip: Clip) =>
    clip.notes.some(({ tick }) => shifted(clip.timeline, tick, ms) < 0 && clip.pickup === 0);
  const clip = early === 'pickup' && leads(given) ? withPickupBar(given) : given;
  let held = 0;
  let around = 0;
  const onto = (tick: number) => {
    const to = Math.round(shifted(clip.timeline, tick, ms));
    if (early === 'wrap' && clip.pickup === 0 && tick < clip.length && (to < 0 || to >= clip.length)) {
      around++;
      return (to + clip.length) % clip.length;
    }
    if (to < 0) held++;
    return Math.max(0, to);
  };
  const notes = clip.notes.map((note) => withPlace(note, Math.max(0, onto(note.tick))));
  return changedNotes(clip, { ...clip, notes }, (changed) =>
    [
      `${count(changed, 'note')} ${Math.abs(ms)} ms ${ms < 0 ? 'earlier' : 'later'}`,
      held > 0 ? `${held} held at bar 1` : '',
      around > 0 ? `${around} over the seam, to the other end` : '',
      clip !== given ? 'what comes before bar 1 is a pickup' : '',
    ]
      .filter(Boolean)
      .join('; '),
  );
};

/** A tick moved by milliseconds; below 0 by the first tempo. */
function shifted(timeline: Timeline, tick: number, ms: number): number {
  const seconds = ticksToSeconds(timeline, tick) + ms / 1000;
  if (seconds >= 0) return secondsToTicks(timeline, seconds);
  return (seconds * 1e6 * timeline.ppq) / tempoAt(timeline, 0).microseconds;
}
