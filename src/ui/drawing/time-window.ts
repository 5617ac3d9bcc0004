import { scaleLinear, type ScaleLinear } from 'd3-scale';

/** The stretch of time a drawing shows. */
export interface TimeWindow {
  fromTick: number;
  toTick: number;
}

/** Ticks to pixels from the left, and back (`invert`). */
export type TimeScale = ScaleLinear<number, number>;

/** Where ticks lie in a drawing of so many pixels that begins at `left`. */
export function timeScale({ fromTick, toTick }: TimeWindow, width: number, left = 0): TimeScale {
  return scaleLinear([fromTick, toTick], [left, left + width]);
}

/** Pixels that some ticks take. */
export function pixelsFor(x: TimeScale, ticks: number): number {
  return x(x.domain()[0]! + ticks) - x.range()[0]!;
}

/** The middle of what is shown. */
export function middleOf({ fromTick, toTick }: TimeWindow): number {
  return (fromTick + toTick) / 2;
}

/** The closest one looks, in ticks. */
export const CLOSEST = 240;

/** The window around a tick, wider or narrower by a factor, within the music. */
export function zoomed(window: TimeWindow, at: number, factor: number, endTick: number): TimeWindow {
  const span = Math.min(endTick, Math.max(CLOSEST, (window.toTick - window.fromTick) * factor));
  const share = timeScale(window, 1)(at);
  return panned({ fromTick: at - share * span, toTick: at + (1 - share) * span }, 0, endTick);
}

/** The window moved by some ticks, kept within the music. */
export function panned(window: TimeWindow, by: number, endTick: number): TimeWindow {
  const span = window.toTick - window.fromTick;
  const fromTick = Math.min(Math.max(0, window.fromTick + by), Math.max(0, endTick - span));
  return { fromTick, toTick: fromTick + span };
}

/** The window of the same width around a tick. */
export function centeredOn(window: TimeWindow, tick: number, endTick: number): TimeWindow {
  return panned(window, tick - middleOf(window), endTick);
}
