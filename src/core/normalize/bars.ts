import { STATUS } from '../midi/smf.ts';
import { barStart, makeTimeline, type Timeline } from '../music/timeline.ts';
import type { Clip, ClipNote, Control } from '../phrase/clip.ts';
import { gridTicks, type Grid } from './grid.ts';
import { count, type Step } from './step.ts';

export interface BarsParams {
  /** First bar, counted from 1 as written in the take. */
  start: number;
  /** Number of bars. */
  count: number;
  /** What becomes of a note that sounds past the last bar line: shortened to it, or left long. */
  tail?: 'cut' | 'keep';
  /** How far ahead of a bar line a note still belongs to the bar that follows. */
  early?: Grid | 'none';
}

/**
 * Cuts whole bars out of a part; the first bar line becomes tick 0. Controllers and bend are restored at the
 * cut to where they stood. Notes outside are set aside, each under its reason.
 */
export const cutBars: Step<BarsParams> = (clip, params) => {
  const { timeline } = clip;
  const start = Math.round(barStart(timeline, params.start));
  const end = Math.round(barStart(timeline, params.start + params.count));
  const early = params.early && params.early !== 'none' ? gridTicks(params.early, timeline.ppq) : 0;
  const length = end - start;

  const notes: ClipNote[] = [];
  const before: number[] = [];
  const after: number[] = [];
  let pulled = 0;
  let shortened = 0;
  for (const note of clip.notes) {
    if (note.tick < start - early) before.push(note.origin);
    else if (note.tick >= end - early) after.push(note.origin);
    else {
      const tick = Math.max(0, note.tick - start);
      if (note.tick < start) pulled++;
      let duration = note.duration - Math.max(0, start - note.tick);
      if (tick + duration > length && (params.tail ?? 'cut') === 'cut') {
        duration = length - tick;
        shortened++;
      }
      notes.push({ ...note, tick, duration: Math.max(duration, Math.min(note.duration, 1)) });
    }
  }
  const cut: Clip = {
    ...clip,
    timeline: rebase(timeline, start, end),
    length,
    notes,
    controls: rebaseControls(clip.controls, start, end),
  };
  const said = [
    `${count(notes.length, 'note')} in bars ${params.start} to ${params.start + params.count - 1}`,
    pulled > 0 ? `${pulled} played just ahead of the bar line, moved to it` : '',
    shortened > 0 ? `${shortened} shortened at the end` : '',
  ];
  return {
    clip: cut,
    changed: pulled + shortened,
    summary: said.filter(Boolean).join('; '),
    setAside: [
      { reason: `before bar ${params.start}`, origins: before },
      { reason: `after bar ${params.start + params.count - 1}`, origins: after },
    ].filter(({ origins }) => origins.length > 0),
  };
};

/** The part of a timeline between two ticks, moved to tick 0. */
export function rebase(timeline: Timeline, start: number, end: number): Timeline {
  const move = <Change extends { tick: number }>(changes: Change[]) =>
    changes
      .filter((change) => change.tick < end)
      .map((change) => ({ ...change, tick: Math.max(0, change.tick - start) }));
  return makeTimeline(timeline.ppq, move(timeline.tempos), move(timeline.meters));
}

function rebaseControls(controls: readonly Control[], start: number, end: number): Control[] {
  const inForce = new Map<string, Control>();
  const inside: Control[] = [];
  for (const control of controls) {
    if (control.tick >= end) break;
    if (control.tick > start) inside.push({ ...control, tick: control.tick - start });
    else inForce.set(controlKey(control), { ...control, tick: 0 });
  }
  return [...inForce.values(), ...inside];
}

/** Controls of one key replace each other. */
export function controlKey(control: Control): string {
  const numbered = control.kind === STATUS.controller || control.kind === STATUS.polyPressure;
  return `${control.kind}/${numbered ? control.data1 : ''}`;
}
