import { useCallback, useRef } from 'react';
import { usePlayer } from '../../../sound/player.ts';
import { type TimeWindow, timeScale } from '../../../ui/drawing/time-window.ts';
import { useFollowing } from './following.ts';

/** The thread that follows what sounds over a drawing. Nothing in silence. */
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
  const styleOf = useCallback(
    (tick: number) => {
      const x = timeScale(window, width)(tickOf(tick));
      return { transform: `translateX(${left + x}px)`, opacity: x >= 0 && x <= width ? 1 : 0 };
    },
    [tickOf, window, left, width],
  );
  useFollowing(line, sounds, styleOf);
  if (!sounds) return null;
  return (
    <div
      ref={line}
      className="pointer-events-none absolute inset-y-0 left-0 w-px bg-madder"
      aria-hidden="true"
    />
  );
}
