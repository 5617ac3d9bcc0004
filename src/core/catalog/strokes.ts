import { kitPiece, KIT_PIECES } from '../midi/gm.ts';
import { barTicks, meterAt } from '../music/timeline.ts';
import { isPitched, type Clip, type ClipNote } from '../phrase/clip.ts';

/** Places of a quarter note that onsets are told apart by: triplets and sixteenths alike. */
export const PLACES = 12;

/** What begins together: its place, and its pitches (or pieces of the kit) from the lowest up. */
export interface Stroke {
  /** In twelfths of a quarter note from bar one; a pickup is negative. */
  place: number;
  pitches: number[];
}

/** A phrase as strokes: free of level, resolution and drum layout. */
export interface Stroked {
  isPitched: boolean;
  /** Places of a bar, and bars. */
  bar: number;
  bars: number;
  bpm: number;
  strokes: Stroke[];
}

/** Swing from here to there is taken out; less is straight, and more are dotted rhythms. */
const SWUNG = { from: 0.53, to: 0.72 };

/**
 * The strokes of a clip. Notes within a twelfth of a quarter note are one: the measure is the beat, not the clock, so that
 * another tempo gives the same strokes. `swing` is the long share of a pair of eighths, taken out where there is one.
 */
export function strokesOf(clip: Clip, bpm: number, swing: number | null = null): Stroked {
  const { timeline, pickup, length } = clip;
  const { ppq } = timeline;
  const bar = barTicks(ppq, meterAt(timeline, pickup));
  const pitched = isPitched(clip);
  const strokes: Stroke[] = [];
  let first: ClipNote | undefined;
  for (const note of clip.notes) {
    const name = pitched ? note.pitch : KIT_PIECES.indexOf(kitPiece(note.pitch));
    const last = strokes.at(-1);
    if (last && first && note.tick - first.tick < ppq / PLACES) {
      if (!last.pitches.includes(name)) last.pitches.push(name);
      continue;
    }
    first = note;
    strokes.push({
      place: Math.round(PLACES * straight((note.tick - pickup) / ppq, swing)),
      pitches: [name],
    });
  }
  for (const { pitches } of strokes) pitches.sort((a, b) => a - b);
  return {
    isPitched: pitched,
    bar: Math.round((PLACES * bar) / ppq),
    bars: Math.max(1, Math.round((length - pickup) / bar)),
    bpm,
    strokes,
  };
}

/** A place, in quarter notes, where it were with straight eighths. */
function straight(quarters: number, swing: number | null): number {
  if (swing === null || swing < SWUNG.from || swing > SWUNG.to) return quarters;
  const beat = Math.floor(quarters);
  const within = quarters - beat;
  return beat + (within < swing ? (within / swing) * 0.5 : 0.5 + ((within - swing) / (1 - swing)) * 0.5);
}
