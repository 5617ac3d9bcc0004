import { select } from 'd3-selection';
import { zoom, zoomIdentity, type D3ZoomEvent, type ZoomTransform } from 'd3-zoom';
import { useEffect, useEffectEvent, type RefObject } from 'react';
import { CLOSEST, panned, timeScale, type TimeScale, type TimeWindow } from './time-window.ts';

/** How far the wheel has to go for twice as close, in its own units. */
const DOUBLED = 300 * Math.LN2;

interface Seen {
  window: TimeWindow;
  endTick: number;
  /** Where the drawing begins within its box, and its width, in pixels. */
  left: number;
  width: number;
  onWindow: (window: TimeWindow) => void;
}

/** The wheel over a drawing: with Ctrl (or two fingers on a trackpad) it zooms where the pointer is, with Shift or sideways it moves. */
export function useTimeZoom(
  box: RefObject<HTMLElement | null>,
  { window, endTick, left, width, onWindow }: Seen,
): void {
  const show = useEffectEvent(onWindow);
  const move = useEffectEvent((wheel: WheelEvent) => {
    if (wheel.ctrlKey || !(wheel.shiftKey || Math.abs(wheel.deltaX) > Math.abs(wheel.deltaY))) return;
    // The page does not go sideways, nor back to the one before.
    wheel.preventDefault();
    const perPixel = (window.toTick - window.fromTick) / Math.max(1, width);
    onWindow(panned(window, (wheel.deltaX || wheel.deltaY) * perPixel, endTick));
  });
  useEffect(() => {
    if (width <= 0 || endTick <= 0) return;
    const whole = timeScale({ fromTick: 0, toTick: endTick }, width, left);
    const zooms = zoom<HTMLElement, unknown>()
      .extent([
        [left, 0],
        [left + width, 0],
      ])
      .translateExtent([
        [left, -Infinity],
        [left + width, Infinity],
      ])
      .scaleExtent([1, Math.max(1, endTick / CLOSEST)])
      .filter((event: Event) => event instanceof WheelEvent && event.ctrlKey)
      .wheelDelta(({ deltaY }: WheelEvent) => -deltaY / DOUBLED)
      .on('zoom', ({ transform }: D3ZoomEvent<HTMLElement, unknown>) => show(windowOf(transform, whole)));
    const drawing = select(box.current!).call(zooms).on('wheel.move', move, { passive: false });
    return () => void drawing.on('.zoom', null).on('wheel.move', null);
  }, [box, endTick, left, width]);
  // Keys, buttons and the playhead move the window too: the wheel goes on from there.
  useEffect(() => {
    const whole = timeScale({ fromTick: 0, toTick: endTick }, width, left);
    select(box.current!).property('__zoom', transformOf(window, whole));
  }, [box, window, endTick, left, width]);
}

/** What is shown of the whole once it is so close. */
export function windowOf(transform: ZoomTransform, whole: TimeScale): TimeWindow {
  const [fromTick, toTick] = transform.rescaleX(whole).domain();
  return { fromTick: Math.max(0, fromTick!), toTick: Math.min(whole.domain()[1]!, toTick!) };
}

/** How close one is to the whole where this is shown. */
export function transformOf({ fromTick, toTick }: TimeWindow, whole: TimeScale): ZoomTransform {
  const scale = whole.domain()[1]! / (toTick - fromTick);
  return zoomIdentity.translate(whole.range()[0]! - scale * whole(fromTick), 0).scale(scale);
}
