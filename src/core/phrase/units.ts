import { ticksOfMs } from '../music/timeline.ts';
import { isPitched, type Clip, type ClipNote } from './clip.ts';

/** Notes within this are one stroke, in milliseconds: a strum, a rolled chord, a flam (common practice). */
const SPREAD_MS = 40;

/**
 * Notes that were struck as one, in order of time: those that begin together; a strum or a roll, which goes one way
 * through the pitches; two hits of one drum, a flam. Hits of several drums are strokes of their own where they do not begin
 * together.
 */
export function unitsOf(clip: Clip, spreadMs = SPREAD_MS): ClipNote[][] {
  const spread = ticksOfMs(clip.timeline, spreadMs);
  const pitched = isPitched(clip);
  const units: ClipNote[][] = [];
  let unit: ClipNote[] = [];
  let last: ClipNote | undefined;
  // Which way the unit goes through the pitches: 0 while it goes none.
  let way = 0;
  for (const note of clip.notes) {
    const step = last ? Math.sign(note.pitch - last.pitch) : 0;
    const together = last !== undefined && note.tick === last.tick;
    const goesOn = pitched
      ? step !== 0 && (way === 0 || step === way)
      : unit.some(({ pitch }) => pitch === note.pitch);
    if (last && note.tick - unit[0]!.tick <= spread && (together || goesOn)) {
      if (!together) way = step;
      unit.push(note);
    } else {
      units.push((unit = [note]));
      way = 0;
    }
    last = note;
  }
  return units;
}

/** The note of a stroke by which it goes: the loudest hit of a flam, else the first. */
export function anchorOf(unit: readonly ClipNote[], pitched: boolean): ClipNote {
  if (pitched) return unit[0]!;
  return unit.reduce((a, b) => (b.velocity > a.velocity ? b : a));
}
