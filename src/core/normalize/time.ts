import { withPlace } from '../phrase/clip.ts';
import type { Step } from './step.ts';

export interface TimeParams {
  /** 2 writes everything twice as long (half as many bars a minute), 0.5 half as long. */
  factor: 0.5 | 2;
}

/** Half and double time: the same music written in twice or half the bars, the tempo with it, so that it sounds as it did. */
export const setTime: Step<TimeParams> = (clip, { factor }) => {
  const scale = <Item extends { tick: number }>(items: readonly Item[]) =>
    items.map((item) => ({ ...item, tick: Math.round(item.tick * factor) }));
  return {
    clip: {
      ...clip,
      timeline: {
        ...clip.timeline,
        tempos: scale(clip.timeline.tempos).map((tempo) => ({
          ...tempo,
          microseconds: tempo.microseconds / factor,
        })),
        meters: scale(clip.timeline.meters),
      },
      length: Math.round(clip.length * factor),
      pickup: Math.round(clip.pickup * factor),
      notes: clip.notes.map((note) => {
        const tick = Math.round(note.tick * factor);
        const duration = Math.round((note.tick + note.duration) * factor) - tick;
        return withPlace(note, tick, Math.max(duration, Math.min(note.duration, 1)));
      }),
      controls: scale(clip.controls),
    },
    changed: clip.notes.length,
    summary: factor > 1 ? 'double time: twice the bars' : 'half time: half the bars',
    setAside: [],
  };
};
