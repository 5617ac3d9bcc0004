import { STATUS } from '../midi/smf.ts';
import { barStart, beatTicks, makeTimeline, meterAt, type Timeline } from '../music/timeline.ts';
import { compareClipNotes, withPlace, type Clip, type ClipNote, type Control } from '../phrase/clip.ts';
import { gridTicks, type Grid } from './grid.ts';
import { count, type Step } from './step.ts';

export interface BarsParams {
  /** First bar, counted from 1 as written in the take. */
  start: number;
  /** Number of bars. */
  count: number;
  /** What becomes of a note that sounds past the last bar line: shortened to it, left long, or heard on at bar one. */
  tail?: 'cut' | 'keep' | 'wrap';
  /** How far ahead of a bar line a note still belongs to the bar that follows. */
  early?: Grid | 'none';
  /** Beats before the first bar line that come along as a pickup, in a bar of their own. */
  pickup?: number;
}

/**
 * Cuts whole bars out of a part; the first bar line becomes tick 0, or the one before it where a pickup is wanted and
 * there is one. Controllers and bend are restored at the cut to where they stood. Notes outside are set aside, each
 * under its reason.
 */
export const cutBars: Step<BarsParams> = (clip, params) => {
  const { timeline } = clip;
  const tail = params.tail ?? 'cut';
  const last = params.start + params.count - 1;
  const first = Math.round(barStart(timeline, params.start));
  const end = Math.round(barStart(timeline, last + 1));
  const early = params.early && params.early !== 'none' ? gridTicks(params.early, timeline.ppq) : 0;
  const lead = pickupBefore(clip, params, first - early);
  const start = lead ? lead.bar : first;
  const [pickup, length] = [first - start, end - start];

  const notes: ClipNote[] = [];
  const before: number[] = [];
  const after: number[] = [];
  const over: ClipNote[] = [];
  let pulled = 0;
  let shortened = 0;
  for (const note of clip.notes) {
    if (note.tick < (lead?.from ?? first - early)) before.push(note.origin);
    else if (note.tick >= end - early) after.push(note.origin);
    else {
      // Just ahead of the bar line is meant for it; what is farther ahead stays in the pickup.
      const from = note.tick >= first - early ? Math.max(first, note.tick) : note.tick;
      if (from > note.tick) pulled++;
      const tick = from - start;
      let duration = note.duration - (from - note.tick);
      if (tick + duration > length && tail !== 'keep') {
        over.push(withPlace(note, tick, duration));
        duration = length - tick;
        shortened++;
      }
      notes.push(withPlace(note, tick, Math.max(duration, Math.min(note.duration, 1))));
    }
  }
  const wrapped = tail === 'wrap' ? wrappedPieces(notes, over, pickup, length, timeline.ppq / 32) : [];
  const cut: Clip = {
    ...clip,
    timeline: rebase(timeline, start, end),
    length,
    pickup,
    notes: wrapped.length > 0 ? [...wrapped, ...notes].sort(compareClipNotes) : notes,
    controls: rebaseControls(clip.controls, start, end),
  };
  const said = [
    `${count(notes.length, 'note')} in bars ${params.start} to ${last}`,
    lead ? `${notes.filter(({ tick }) => tick < pickup).length} of them a pickup` : '',
    pulled > 0 ? `${pulled} played just ahead of the bar line, moved to it` : '',
    shortened - wrapped.length > 0 ? `${shortened - wrapped.length} shortened at the end` : '',
    wrapped.length > 0 ? `${wrapped.length} heard on at bar 1` : '',
  ];
  return {
    clip: cut,
    changed: pulled + shortened,
    summary: said.filter(Boolean).join('; '),
    setAside: [
      { reason: `before bar ${params.start}`, origins: before },
      { reason: `after bar ${last}`, origins: after },
    ].filter(({ origins }) => origins.length > 0),
  };
};

/** From which tick a pickup is taken, and the bar line its bar begins with; null where none is wanted or played. */
function pickupBefore({ timeline, notes }: Clip, params: BarsParams, until: number) {
  if (!params.pickup || params.start === 1) return null;
  const bar = Math.round(barStart(timeline, params.start - 1));
  const first = barStart(timeline, params.start);
  const from = Math.max(bar, first - params.pickup * beatTicks(timeline.ppq, meterAt(timeline, bar)));
  return notes.some(({ tick }) => tick >= from && tick < until) ? { from, bar } : null;
}

/**
 * What sounds past a loop's end, heard at its beginning: until its pitch is struck there, and never longer than a round.
 * A piece has its note's origin, and is an attack of its own: MIDI has no other way to say that a note is sounding already.
 */
function wrappedPieces(
  notes: readonly ClipNote[],
  over: readonly ClipNote[],
  pickup: number,
  length: number,
  shortest: number,
): ClipNote[] {
  const pieces = new Map<number, ClipNote>();
  for (const note of over) {
    const struck = notes.find(({ tick, pitch }) => tick >= pickup && pitch === note.pitch)?.tick ?? length;
    const duration = Math.min(note.tick + note.duration - length, struck - pickup);
    // Two that hang over at one pitch are one sound; what is over at once is none.
    if (duration > shortest && duration > (pieces.get(note.pitch)?.duration ?? 0))
      pieces.set(note.pitch, { ...note, tick: pickup, duration });
  }
  return [...pieces.values()];
}

/** The part of a timeline between two ticks, moved to tick 0. */
export function rebase(timeline: Timeline, start: number, end: number): Timeline {
  const move = <Change extends { tick: number }>(changes: Change[]) =>
    changes
      .filter((change) => change.tick < end)
      .map((change) => ({ ...change, tick: Math.max(0, change.tick - start) }));
  return makeTimeline(timeline.ppq, move(timeline.tempos), move(timeline.meters));
}

/** The controls between two ticks, moved to tick 0, where they stand as they stood. */
export function rebaseControls(controls: readonly Control[], start: number, end: number): Control[] {
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
