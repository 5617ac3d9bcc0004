import { bpmOf, msPerQuarter, tempoAt } from '../music/timeline.ts';
import { compareClipNotes, isPitched, type Clip, type ClipNote } from '../phrase/clip.ts';

/** Notes within this are one stroke, in milliseconds: a strum, a rolled chord, a flam (common practice). */
const SPREAD_MS = 40;

/**
 * Notes that were struck as one, in order of time: those that begin together; a strum or a roll, which goes one way
 * through the pitches; two hits of one drum, a flam.
 */
export function unitsOf(clip: Clip): ClipNote[][] {
  const ms = msPerQuarter(bpmOf(tempoAt(clip.timeline, 0).microseconds));
  const spread = (SPREAD_MS / ms) * clip.timeline.ppq;
  const pitched = isPitched(clip);
  const units: ClipNote[][] = [];
  for (const note of [...clip.notes].sort(compareClipNotes)) {
    const unit = units.at(-1);
    if (unit && note.tick - unit[0]!.tick <= spread && (pitched ? goesOn(unit, note) : isFlam(unit, note)))
      unit.push(note);
    else units.push([note]);
  }
  return units;
}

/** Whether a note begins with the last of a unit, or goes on the way its pitches go. */
function goesOn(unit: readonly ClipNote[], note: ClipNote): boolean {
  const last = unit.at(-1)!;
  if (note.tick === last.tick) return true;
  const up = unit.filter(
    (one, k) => k > 0 && one.tick > unit[k - 1]!.tick && one.pitch > unit[k - 1]!.pitch,
  ).length;
  const down = unit.filter(
    (one, k) => k > 0 && one.tick > unit[k - 1]!.tick && one.pitch < unit[k - 1]!.pitch,
  ).length;
  if (note.pitch === last.pitch) return false;
  return note.pitch > last.pitch ? down === 0 : up === 0;
}

/** Hits at once are strokes of their own but where they begin together; two of one drum are a flam. */
function isFlam(unit: readonly ClipNote[], note: ClipNote): boolean {
  const last = unit.at(-1)!;
  return note.tick === last.tick || unit.some(({ pitch }) => pitch === note.pitch);
}
