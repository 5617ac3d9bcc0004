import { makeTimeline } from '../music/timeline.ts';
import { barsOf, compareClipNotes, firstMade, withPlace, type Clip, type ClipNote } from '../phrase/clip.ts';
import { count, unchanged, type Step } from './step.ts';

export interface RepeatParams {
  /** Bars it is to fill, from bar one: gone round as often as it takes, the last round cut at the line. */
  bars: number;
}

/** A phrase as long as it is asked for: its rounds are added notes, what no round has room for is set aside. */
export const repeat: Step<RepeatParams> = (clip, { bars }) => {
  const own = barsOf(clip);
  if (bars === own || clip.length <= clip.pickup) return unchanged(clip, `${count(own, 'bar')} as it is`);
  const round = clip.length - clip.pickup;
  const length = clip.pickup + Math.round((round / own) * bars);
  const rounds = Math.ceil((length - clip.pickup) / round);
  const later = <Event extends { tick: number }>(events: readonly Event[]) =>
    Array.from({ length: rounds }, (_, k) =>
      events.map((event) => ({ ...event, tick: event.tick + k * round })),
    )
      .flat()
      .filter(({ tick }) => tick < length);
  const { notes, copied } = roundsOf(clip.notes, { round, rounds, length }, firstMade(clip.notes));
  const kept = new Set(notes.map(({ origin }) => origin));
  const gone = [...new Set(clip.notes.map(({ origin }) => origin))].filter((origin) => !kept.has(origin));
  const { ppq, tempos, meters } = clip.timeline;
  const result: Clip = {
    ...clip,
    timeline: makeTimeline(ppq, later(tempos), later(meters)),
    length,
    notes: notes.sort(compareClipNotes),
    controls: later(clip.controls).sort((a, b) => a.tick - b.tick),
    locked: [...clip.locked, ...clip.locked.flatMap((origin) => copied.get(origin) ?? [])],
  };
  const said =
    rounds > 1 ? `${own} to ${count(bars, 'bar')}, ${rounds} rounds` : `cut to ${count(bars, 'bar')}`;
  return {
    clip: result,
    changed: notes.length - clip.notes.length + 2 * gone.length,
    summary: rounds * own === bars || rounds === 1 ? said : `${said}, the last cut at the line`,
    setAside: gone.length > 0 ? [{ reason: `after bar ${bars}`, origins: gone }] : [],
  };
};

/** The notes round by round, those of later rounds with origins of their own; and which copies a note has. */
function roundsOf(
  notes: readonly ClipNote[],
  { round, rounds, length }: { round: number; rounds: number; length: number },
  made: number,
): { notes: ClipNote[]; copied: Map<number, number[]> } {
  const all: ClipNote[] = [];
  const copied = new Map<number, number[]>();
  let next = made;
  for (let k = 0; k < rounds; k++) {
    for (const note of notes) {
      const tick = note.tick + k * round;
      if (tick >= length) continue;
      const placed = withPlace(
        note,
        tick,
        Math.max(Math.min(note.duration, length - tick), Math.min(1, note.duration)),
      );
      if (k === 0) all.push(placed);
      else {
        const origin = next--;
        all.push({ ...placed, origin });
        copied.set(note.origin, [...(copied.get(note.origin) ?? []), origin]);
      }
    }
  }
  return { notes: all, copied };
}
