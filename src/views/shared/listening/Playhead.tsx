import { useEffect, useRef } from 'react';
import { positionTick, usePlayer } from '../../../sound/player.ts';
import { type TimeWindow, timeScale } from '../../../ui/drawing/time-window.ts';

/** The thread that follows what sounds over a drawing, moved once a frame. Nothing in silence. */
export function Playhead({
  isPlaying,
  tickOf,
  window,
  left,
  width,
}: {
  isPlaying: boolean;
  /** The drawing's tick for the tick that sounds. */
  tickOf: (sounding: number) => number;
  window: TimeWindow;
  /** Where the drawing begins, and its width, in pixels. */
  left: number;
  width: number;
}) {
  const line = useRef<HTMLDivElement>(null);
  const sounds = usePlayer((player) => player.state === 'playing') && isPlaying;
  useEffect(() => {
    if (!sounds) return;
    const across = timeScale(window, width);
    let frame = requestAnimationFrame(function draw() {
      const x = across(tickOf(positionTick()));
      if (line.current) {
        line.current.style.transform = `translateX(${left + x}px)`;
        line.current.style.opacity = x >= 0 && x <= width ? '1' : '0';
      }
      frame = requestAnimationFrame(draw);
    });
    return () => cancelAnimationFrame(frame);
  }, [sounds, tickOf, window, left, width]);
  if (!sounds) return null;
  return (
    <div
      ref={line}
      className="pointer-events-none absolute inset-y-0 left-0 w-px bg-madder"
      aria-hidden="true"
    />
  );
}
