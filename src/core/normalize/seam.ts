import type { Clip } from '../phrase/clip.ts';
import { cutBars } from './bars.ts';

/** The seam of a loop by itself: its last bar, then its first, as one clip. */
export function seamClip(clip: Clip, { start, count }: { start: number; count: number }): Clip {
  const { clip: last } = cutBars(clip, { start: start + count - 1, count: 1, tail: 'keep' });
  const { clip: first } = cutBars(clip, { start, count: 1, tail: 'keep' });
  const later = <Event extends { tick: number }>(event: Event) => ({
    ...event,
    tick: event.tick + last.length,
  });
  return {
    ...last,
    length: last.length + first.length,
    notes: [...last.notes, ...first.notes.map(later)],
    controls: [...last.controls, ...first.controls.map(later)],
  };
}
