import { pitchOfPiece } from '../midi/gm.ts';
import { chordScale, scaleOfKey, stepsFrom, type ChordScale } from '../music/chord-scale.ts';
import { isPitch } from '../music/pitch.ts';
import { isPitched, type Clip, type ClipNote } from '../phrase/clip.ts';
import { REGISTERS } from '../phrase/registers.ts';
import { seededRandom } from '../random.ts';
import { indexAt, type Track } from '../through/sounding.ts';
import { placeOf, strokesIn, type Stroke } from './strokes.ts';

/** A note to be added; who adds it gives it a number. */
export type NewNote = Omit<ClipNote, 'origin'>;

/** So much softer, and so much of the place filled, is what is struck again. */
const AGAIN = { velocity: 0.7, share: 0.6 };

/** How soft ghost notes are (common practice). */
const GHOSTS = { low: 25, high: 40 };

/**
 * Strokes that could be added to a phrase, in the order in which they come in as it grows busier: strong places before weak ones,
 * and within a level as the seed says. None falls on a stroke that is there, none is finer than a sixteenth (its triplet
 * where the phrase swings).
 */
export function comingOrder(clip: Clip, changes: Track | null, seed: number): NewNote[][] {
  const strokes = strokesIn(clip);
  if (strokes.length === 0) return [];
  const random = seededRandom(seed);
  const found = isPitched(clip) ? additions(clip, strokes, changes) : hits(clip, strokes, seed);
  return found
    .map((notes) => ({ notes, weight: placeOf(clip, notes[0]!.tick).weight, chance: random() }))
    .sort((a, b) => b.weight - a.weight || a.chance - b.chance)
    .map(({ notes }) => notes);
}

/** Ticks of the finest grid on which something may be added. */
export function finestGrid(clip: Clip): number {
  const { ppq } = clip.timeline;
  const near = (share: number) =>
    clip.notes.filter(({ tick }) => {
      const within = ((tick - clip.pickup) % ppq) / ppq;
      return Math.abs(within - share) < 1 / 16;
    }).length;
  return near(2 / 3) > 2 * near(1 / 2) ? ppq / 3 : ppq / 4;
}

/** Empty places of the grid between strokes, each with the stroke that sounds before it. */
function emptyPlaces(clip: Clip, strokes: readonly Stroke[]): { tick: number; before: number }[] {
  const grid = finestGrid(clip);
  const places: { tick: number; before: number }[] = [];
  for (let k = 0; k < strokes.length; k++) {
    const { tick } = strokes[k]!;
    const next = strokes[k + 1]?.tick ?? clip.length;
    const first = clip.pickup + Math.ceil((tick - clip.pickup + grid * 0.6) / grid) * grid;
    for (let at = first; at <= next - grid * 0.6 && at < clip.length; at += grid)
      places.push({ tick: Math.round(at), before: k });
  }
  return places;
}

function additions(clip: Clip, strokes: readonly Stroke[], changes: Track | null): NewNote[][] {
  const grid = finestGrid(clip);
  const isLine = strokes.filter(({ notes }) => notes.length > 1).length * 4 < strokes.length;
  return emptyPlaces(clip, strokes).flatMap(({ tick, before }): NewNote[][] => {
    const stroke = strokes[before]!;
    const after = strokes[before + 1];
    const length = Math.round(grid * AGAIN.share);
    const again = stroke.notes.map((note) => softer(note, tick, length));
    if (!isLine) return [again];
    const [note] = again as [NewNote];
    const at = (pitch: number) => [[{ ...note, pitch: isPitch(pitch) ? pitch : note.pitch }]];
    if (clip.role === 'bass') return at(bassPitch(clip, tick, note, after, changes));
    if (clip.role === 'arpeggio') return at(rungPitch(strokes, before, note.pitch));
    const gap = (after?.tick ?? clip.length) - stroke.tick;
    if (gap < clip.timeline.ppq) return [];
    return at(betweenPitch(scaleAt(clip, tick, changes), note.pitch, after?.notes[0]!.pitch));
  });
}

function softer({ pitch, velocity, release }: ClipNote, tick: number, duration: number): NewNote {
  return { tick, duration, pitch, velocity: Math.max(1, Math.round(velocity * AGAIN.velocity)), release };
}

function scaleAt(clip: Clip, tick: number, changes: Track | null): ChordScale | null {
  const chord = changes?.chords[indexAt(changes, tick)];
  if (chord) return chordScale(chord, clip.key);
  return clip.key && scaleOfKey(clip.key);
}

/** A passing note on the way to the next; the neighbor above where there is no way. */
function betweenPitch(scale: ChordScale | null, pitch: number, next: number | undefined): number {
  if (!scale) return pitch;
  const way = next === undefined || next === pitch ? 1 : Math.sign(next - pitch);
  const step = stepsFrom(scale, pitch, way);
  return step === next ? pitch : step;
}

/** The octave above where it has room, the fifth, or a semitone under what comes next. */
function bassPitch(
  clip: Clip,
  tick: number,
  { pitch }: NewNote,
  after: Stroke | undefined,
  changes: Track | null,
): number {
  const next = after?.notes[0]!.pitch;
  const toChange =
    changes !== null && after !== undefined && indexAt(changes, after.tick) !== indexAt(changes, tick);
  const { beat } = placeOf(clip, tick);
  if (toChange && next !== undefined && after!.tick - tick <= clip.timeline.ppq / 2) return next - 1;
  const high = REGISTERS.bass!.high;
  if (beat % 1 !== 0 && pitch + 12 <= high) return pitch + 12;
  return pitch + 7 <= high ? pitch + 7 : pitch;
}

/** The note of the pattern that comes after the one that is doubled: the next rung in the same turn. */
function rungPitch(strokes: readonly Stroke[], before: number, pitch: number): number {
  const rungs = [
    ...new Set(strokes.slice(Math.max(0, before - 6), before + 7).map(({ notes }) => notes[0]!.pitch)),
  ];
  const above = rungs.filter((rung) => rung > pitch).sort((a, b) => a - b)[0];
  return above ?? rungs.sort((a, b) => a - b)[0] ?? pitch;
}

const SNARE = 38;

/** Ghosts on weak sixteenths, a kick before three, hats twice as fast. */
function hits(clip: Clip, strokes: readonly Stroke[], seed: number): NewNote[][] {
  const grid = finestGrid(clip);
  const [kick, snare = SNARE, hat] = (['kick', 'snare', 'closed hat'] as const).map((piece) =>
    pitchOfPiece(clip.notes, piece),
  );
  const taken = new Set(
    strokes.map(({ tick, notes }) => `${Math.round((tick - clip.pickup) / grid)}/${notes[0]!.pitch}`),
  );
  const random = seededRandom(seed);
  const found: NewNote[][] = [];
  const add = (tick: number, pitch: number | undefined, velocity: number) => {
    const place = Math.round((tick - clip.pickup) / grid);
    if (pitch === undefined || taken.has(`${place}/${pitch}`)) return;
    found.push([
      { tick: Math.round(tick), duration: Math.round(grid * AGAIN.share), pitch, velocity, release: 64 },
    ]);
  };
  for (let tick = clip.pickup; tick < clip.length - grid / 2; tick += grid) {
    const { beat, weight } = placeOf(clip, tick);
    if (beat === 1.5) add(tick, kick, 84);
    add(tick, hat, 52);
    if (weight <= -3 && beat % 0.5 !== 0)
      add(tick, snare, GHOSTS.low + Math.floor(random() * (GHOSTS.high - GHOSTS.low + 1)));
  }
  return found;
}
