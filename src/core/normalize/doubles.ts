import { ticksOfMs } from '../music/timeline.ts';
import { compareClipNotes, type ClipNote } from '../phrase/clip.ts';
import { count, type Step } from './step.ts';

export interface DoublesParams {
  /** Two notes of one pitch that begin within so many milliseconds are one: the softer is left out. */
  ms?: number;
}

/** A generator that hears its own notes answers about so fast. */
const USUAL_MS = 10;

/** Leaves out notes that came twice, and ends a note where its pitch is struck again: none hangs, none is cut off by another. */
export const settleDoubles: Step<DoublesParams> = (clip, { ms = USUAL_MS }) => {
  const near = ticksOfMs(clip.timeline, ms);
  const notes: ClipNote[] = [];
  const doubled: number[] = [];
  const last = new Map<number, number>();
  let shortened = 0;
  let pieces: Set<number> | undefined;
  for (const note of [...clip.notes].sort(compareClipNotes)) {
    const at = last.get(note.pitch);
    const before = at === undefined ? undefined : notes[at]!;
    if (before && note.tick - before.tick <= near) {
      // One sound: as loud as the louder, as long as the longer.
      const end = Math.max(before.tick + before.duration, note.tick + note.duration);
      // The piece that a loop heard on gives way to the note that was played there.
      pieces ??= originsInPieces(clip.notes);
      const stays = pieces.has(before.origin) ? note : before;
      notes[at!] = {
        ...stays,
        tick: before.tick,
        velocity: Math.max(before.velocity, note.velocity),
        duration: end - before.tick,
      };
      doubled.push(stays === note ? before.origin : note.origin);
      continue;
    }
    if (before && before.tick + before.duration > note.tick) {
      notes[at!] = { ...before, duration: note.tick - before.tick };
      shortened++;
    }
    last.set(note.pitch, notes.push(note) - 1);
  }
  // A note of two pieces that lost one is still there.
  const left = new Set(doubled.length > 0 ? notes.map(({ origin }) => origin) : []);
  const gone = [...new Set(doubled)].filter((origin) => !left.has(origin));
  return {
    clip: { ...clip, notes },
    changed: doubled.length + shortened,
    summary:
      doubled.length + shortened === 0
        ? 'none came twice, none overlaps'
        : [
            doubled.length > 0 ? `${count(doubled.length, 'note')} came twice` : '',
            shortened > 0 ? `${count(shortened, 'note')} ended where its pitch comes again` : '',
          ]
            .filter(Boolean)
            .join('; '),
    setAside: gone.length > 0 ? [{ reason: 'doubled', origins: gone }] : [],
  };
};

/** Origins of notes that are in more than one piece. */
function originsInPieces(notes: readonly ClipNote[]): Set<number> {
  const seen = new Set<number>();
  const twice = new Set<number>();
  for (const { origin } of notes) {
    if (seen.has(origin)) twice.add(origin);
    seen.add(origin);
  }
  return twice;
}
