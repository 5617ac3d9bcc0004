import { bpmOf, msPerQuarter, tempoAt } from '../music/timeline.ts';
import { isPitched, withPlace, type Clip, type ClipNote } from '../phrase/clip.ts';
import { barAround, gridTicks, type Grid } from './grid.ts';
import { median } from '../numbers.ts';
import { changedNotes, type Step } from './step.ts';
import { anchorOf, unitsOf } from '../phrase/units.ts';

export interface QuantizeParams {
  grid: Grid;
  /** 0 leaves every note where it is, 1 puts it on the grid. */
  strength?: number;
  /** Long share of a pair of grid steps: 0.5 is straight, 2/3 triplet swing; "keep" takes the part's own. */
  swing?: 'keep' | number;
  /** A strum, a rolled chord or a flam moves as one and keeps its spread, or each of its notes goes by itself. */
  spread?: 'keep' | 'flat';
}

/** Swing below this is taken for straight playing with a human hand. */
const STRAIGHT_UNTIL = 0.53;

/** Fewer notes than this between the beats say nothing about swing. */
const FEWEST_OFF_BEATS = 4;

/**
 * Moves onsets toward the nearest grid line, counted from each bar line; lengths stay. A note nearest to the
 * clip's very end is left: what belongs to the next bar is not this clip's.
 */
export const quantize: Step<QuantizeParams> = (clip, params) => {
  const strength = params.strength ?? 1;
  const step = gridTicks(params.grid, clip.timeline.ppq);
  const straight = params.grid.endsWith('T');
  const swing = straight ? 0.5 : params.swing === 'keep' ? findSwing(clip, step) : (params.swing ?? 0.5);

  const around = barAround(clip);
  let left = 0;
  const moves: number[] = [];
  const pitched = isPitched(clip);
  const units = params.spread === 'flat' ? clip.notes.map((note) => [note]) : unitsOf(clip);
  const notes: ClipNote[] = [];
  for (const unit of units) {
    const { tick: at } = anchorOf(unit, pitched);
    const { line, next } = around(at);
    const target = nearestLine(at - line, step, swing) + line;
    // Where the grid does not divide the bar, the next bar line may be nearer than any grid line.
    const onto = next - at < Math.abs(target - at) ? next : Math.min(target, next);
    if (onto >= clip.length && at < clip.length) {
      left += unit.length;
      notes.push(...unit);
      continue;
    }
    // What leads into a stroke on the first beat cannot lead out of the clip.
    const by = Math.max(Math.round((onto - at) * strength), -unit[0]!.tick);
    for (const note of unit) {
      const tick = note.tick + by;
      if (by !== 0) moves.push(Math.abs(by));
      notes.push(by === 0 ? note : withPlace(note, tick, fit(note.duration, tick, clip)));
    }
  }
  const after = { ...clip, notes };
  const ms =
    (median(moves) / clip.timeline.ppq) * msPerQuarter(bpmOf(tempoAt(clip.timeline, 0).microseconds));
  return changedNotes(clip, after, (_, of) =>
    [
      moves.length === 0
        ? 'every note was on the grid'
        : `${moves.length} of ${of} notes moved, ${ms < 10 ? ms.toFixed(1) : Math.round(ms)} ms at the median`,
      swing > 0.5 ? `swing ${Math.round(swing * 100)} %` : '',
      left > 0 ? `${left} left at the loop's end` : '',
    ]
      .filter(Boolean)
      .join('; '),
  );
};

/** A note pushed later may not sound past the end when it did not before. */
function fit(duration: number, tick: number, clip: Clip): number {
  return tick < clip.length ? Math.min(duration, Math.max(1, clip.length - tick)) : duration;
}

/** The nearest of the lines 0, 2·step·swing, 2·step, 2·step + 2·step·swing, ... */
function nearestLine(offset: number, step: number, swing: number): number {
  if (swing === 0.5) return Math.round(offset / step) * step;
  const pair = Math.floor(offset / (2 * step)) * 2 * step;
  const [between, next] = [pair + 2 * step * swing, pair + 2 * step];
  // Halfway belongs to the earlier.
  if (offset - pair <= between - offset) return pair;
  return offset - between <= next - offset ? between : next;
}

/** Median place of the notes between the beats within their pair of steps; 0.5 where there are too few. */
function findSwing(clip: Clip, step: number): number {
  const places: number[] = [];
  const around = barAround(clip);
  for (const { tick } of clip.notes) {
    const offset = tick - around(tick).line;
    const place = offset / (2 * step) - Math.floor(offset / (2 * step));
    if (place > 0.4 && place < 0.8) places.push(place);
  }
  const swing = places.length >= FEWEST_OFF_BEATS ? median(places) : 0.5;
  return swing > STRAIGHT_UNTIL ? Math.min(swing, 0.75) : 0.5;
}
