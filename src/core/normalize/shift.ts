import { secondsToTicks, ticksToSeconds } from '../music/timeline.ts';
import { compareClipNotes } from '../phrase/clip.ts';
import { changedNotes, count, type Step } from './step.ts';

export interface ShiftParams {
  /** Milliseconds, negative for earlier. */
  ms: number;
}

/** Moves every note earlier or later in time. A note that would start before bar one starts with it. */
export const shift: Step<ShiftParams> = (clip, { ms }) => {
  let held = 0;
  const notes = clip.notes.map((note) => {
    const at = ticksToSeconds(clip.timeline, note.tick) + ms / 1000;
    if (at < 0) held++;
    return { ...note, tick: at <= 0 ? 0 : Math.round(secondsToTicks(clip.timeline, at)) };
  });
  const after = { ...clip, notes: notes.sort(compareClipNotes) };
  return changedNotes(clip, after, (changed) =>
    [
      ms === 0
        ? 'by nothing'
        : `${count(changed, 'note')} ${Math.abs(ms)} ms ${ms < 0 ? 'earlier' : 'later'}`,
      held > 0 ? `${held} held at bar 1` : '',
    ]
      .filter(Boolean)
      .join('; '),
  );
};
