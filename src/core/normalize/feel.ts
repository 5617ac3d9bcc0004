import { isPitched, type Clip } from '../phrase/clip.ts';
import { barAround, gridTicks, type Grid } from './grid.ts';
import { median } from '../numbers.ts';
import { changedNotes, unchanged, type Step } from './step.ts';
import { anchorOf, unitsOf } from '../phrase/units.ts';

/** A way of playing, apart from what is played: how far from each place of the bar, and how loud. */
export interface FeelShape {
  grid: Grid;
  /** Places that were played, by their number in the bar from 0. */
  places: {
    place: number;
    /** How far behind the grid, as a share of its step; ahead is negative. */
    by: number;
    /** Loudness against the mean of all: 1 is the mean. */
    accent: number;
  }[];
}

export interface FeelParams {
  feel: FeelShape;
  /** 0 leaves the time as it is, 1 puts it where the feel has it. */
  timing?: number;
  /** The same for how loud. */
  accents?: number;
}

/** The feel of a clip: the median at each place of its bars, over all of them. */
export function takeFeel(clip: Clip, grid: Grid): FeelShape {
  const step = gridTicks(grid, clip.timeline.ppq);
  const mean = meanVelocity(clip);
  const found = new Map<number, { by: number[]; accent: number[] }>();
  const around = barAround(clip);
  for (const unit of unitsOf(clip)) {
    const { tick, velocity } = anchorOf(unit, isPitched(clip));
    const { place, at } = placeOf(tick, around(tick), step);
    const here = found.get(place) ?? { by: [], accent: [] };
    here.by.push((tick - at) / step);
    here.accent.push(velocity / mean);
    found.set(place, here);
  }
  const rounded = (value: number) => Math.round(value * 1e4) / 1e4;
  return {
    grid,
    places: [...found]
      .sort(([a], [b]) => a - b)
      .map(([place, { by, accent }]) => ({
        place,
        by: rounded(median(by)),
        accent: rounded(median(accent)),
      })),
  };
}

/** Plays a part in another's feel. What is struck together stays together; a place that the feel does not know is left. */
export const putFeel: Step<FeelParams> = (clip, { feel, timing = 1, accents = 0 }) => {
  if (feel.places.length === 0) return unchanged(clip, 'this feel has no places');
  const step = gridTicks(feel.grid, clip.timeline.ppq);
  const mean = meanVelocity(clip);
  const known = new Map(feel.places.map((place) => [place.place, place]));
  const around = barAround(clip);
  const moves: number[] = [];
  const notes = unitsOf(clip).flatMap((unit) => {
    const { tick } = anchorOf(unit, isPitched(clip));
    const { place, at } = placeOf(tick, around(tick), step);
    const like = known.get(place);
    // What is nearest to the very end belongs to the bar that follows, which is not this clip's.
    if (!like || (at >= clip.length && tick < clip.length)) return unit;
    const wanted = Math.round((at + like.by * step - tick) * timing);
    const last = Math.max(tick, clip.length - 1);
    const by = Math.min(last - tick, Math.max(wanted, -unit[0]!.tick));
    moves.push(Math.abs(by));
    return unit.map((note) => ({
      ...note,
      tick: note.tick + by,
      velocity: loudness(note.velocity + (mean * like.accent - note.velocity) * accents),
    }));
  });
  return changedNotes(clip, { ...clip, notes }, (changed, of) =>
    [
      `${changed} of ${of} notes`,
      `timing ${Math.round(timing * 100)} %, accents ${Math.round(accents * 100)} %`,
      `${Math.round(median(moves))} ticks at the median`,
    ].join('; '),
  );
};

/** The nearest place in the bar, and its tick. A bar's end is the next bar's first place. */
function placeOf(tick: number, { line, next }: { line: number; next: number }, step: number) {
  const place = Math.round((tick - line) / step);
  const at = line + place * step;
  return at >= next ? { place: 0, at: next } : { place, at };
}

function loudness(velocity: number): number {
  return Math.min(127, Math.max(1, Math.round(velocity)));
}

function meanVelocity({ notes }: Clip): number {
  return notes.reduce((sum, { velocity }) => sum + velocity, 0) / Math.max(1, notes.length) || 1;
}
