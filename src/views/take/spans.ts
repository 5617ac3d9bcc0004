import { timeScale, type TimeWindow } from '../../ui/drawing/time-window.ts';

/** Where a stretch of time lies in a window, in pixels; null where it is out of sight. */
export function pixelsOf(
  startTick: number,
  endTick: number,
  window: TimeWindow,
  width: number,
): { left: number; width: number } | null {
  const x = timeScale(window, width);
  const [left, right] = [x(startTick), x(endTick)];
  if (right <= 0 || left >= width) return null;
  return { left: Math.max(0, left), width: Math.min(width, right) - Math.max(0, left) };
}
