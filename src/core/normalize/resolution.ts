import { withPlace } from '../phrase/clip.ts';
import { unchanged, type Step } from './step.ts';

export interface ResolutionParams {
  /** Ticks a quarter note. */
  ppq: number;
}

/** Ticks a quarter note of the library: what a recipe keeps that says nothing else. */
export const LIBRARY_PPQ = 960;

/** Ticks a quarter note of files that leave, where nothing else is said: what most programs use. */
export const LEAVING_PPQ = 480;

/** Counts time in other ticks, each rounded to the nearest; nothing that sounded becomes silent. */
export const setResolution: Step<ResolutionParams> = (clip, { ppq }) => {
  const from = clip.timeline.ppq;
  if (from === ppq) return unchanged(clip, `already at ${ppq}`);
  const scale = (tick: number) => Math.round((tick * ppq) / from);
  const rescale = <Item extends { tick: number }>(items: readonly Item[]) =>
    items.map((item) => ({ ...item, tick: scale(item.tick) }));
  return {
    clip: {
      ...clip,
      timeline: {
        ppq,
        tempos: rescale(clip.timeline.tempos),
        meters: rescale(clip.timeline.meters),
      },
      length: scale(clip.length),
      pickup: scale(clip.pickup),
      notes: clip.notes.map((note) => {
        const tick = scale(note.tick);
        const duration = scale(note.tick + note.duration) - tick;
        return withPlace(note, tick, Math.max(duration, Math.min(note.duration, 1)));
      }),
      controls: rescale(clip.controls),
    },
    changed: clip.notes.length,
    summary: `${from} to ${ppq} ticks a quarter note`,
    setAside: [],
  };
};
