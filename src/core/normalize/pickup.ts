import { barTicks, makeTimeline, meterAt } from '../music/timeline.ts';
import { compareClipNotes, type Clip } from '../phrase/clip.ts';
import { rebase, rebaseControls } from './bars.ts';
import { count, unchanged, type Step } from './step.ts';

export interface PickupParams {
  /** `keep` leaves it in its bar; `wrap` plays it at the loop's end, where it leads into the next round; `drop` leaves it out. */
  mode: 'keep' | 'wrap' | 'drop';
}

/** Settles what is played before the first bar. */
export const settlePickup: Step<PickupParams> = (clip, { mode }) => {
  const { pickup, length } = clip;
  if (pickup === 0) return unchanged(clip, 'there is none');
  const before = clip.notes.filter(({ tick }) => tick < pickup);
  if (mode === 'keep')
    return unchanged(clip, `${count(before.length, 'note')} in a bar of their own before bar 1`);
  const round = length - pickup;
  const body = clip.notes.slice(before.length).map((note) => ({ ...note, tick: note.tick - pickup }));
  // What is longer than the loop goes on over the seam, as it did before.
  const atEnd = before.map((note) => ({ ...note, tick: Math.max(0, note.tick - pickup + round) }));
  return {
    clip: {
      ...clip,
      timeline: rebase(clip.timeline, pickup, length),
      length: round,
      pickup: 0,
      notes: mode === 'wrap' ? [...body, ...atEnd].sort(compareClipNotes) : body,
      controls: rebaseControls(clip.controls, pickup, length),
    },
    changed: before.length,
    summary: `${count(before.length, 'note')} ${mode === 'wrap' ? 'played at the end instead' : 'left out'}`,
    setAside: mode === 'drop' && before.length > 0 ? droppedBut(before, body) : [],
  };
};

/** The dropped notes of which no other piece is left. */
function droppedBut(dropped: Clip['notes'], left: Clip['notes']) {
  const there = new Set(left.map(({ origin }) => origin));
  const origins = dropped.map(({ origin }) => origin).filter((origin) => !there.has(origin));
  return origins.length > 0 ? [{ reason: 'in the pickup', origins }] : [];
}

/** The clip with an empty bar in front, for a pickup. What was said at its beginning is said there. */
export function withPickupBar(clip: Clip): Clip {
  if (clip.pickup > 0) return clip;
  const bar = Math.round(barTicks(clip.timeline.ppq, meterAt(clip.timeline, 0)));
  const later = <Item extends { tick: number }>(item: Item) => ({ ...item, tick: item.tick + bar });
  const fromTheStart = <Item extends { tick: number }>(item: Item) => (item.tick === 0 ? item : later(item));
  return {
    ...clip,
    timeline: makeTimeline(
      clip.timeline.ppq,
      clip.timeline.tempos.map(fromTheStart),
      clip.timeline.meters.map(fromTheStart),
    ),
    length: clip.length + bar,
    pickup: bar,
    notes: clip.notes.map(later),
    controls: clip.controls.map(fromTheStart),
  };
}
