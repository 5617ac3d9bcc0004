import { useEffect, type RefObject } from 'react';
import { positionTick } from '../../../sound/player.ts';

/** A movement is planned so far ahead, and planned anew so often, in milliseconds: one comes before the other has ended. */
const AHEAD = 600;
const EVERY = 250;

/** Places of a plan, each so many milliseconds after the one before. */
const STEP = 50;

/**
 * Moves an element with what sounds, in the places that `styleOf` gives a tick. It is told ahead where it will be, and the compositor moves it: changed
 * by script once a frame, it cost the page half of the time there is (layers found anew 60 times a second: 8.8 ms each in the library).
 */
export function useFollowing(
  ref: RefObject<HTMLElement | null>,
  isFollowing: boolean,
  styleOf: (tick: number) => Keyframe,
): void {
  useEffect(() => {
    const element = ref.current;
    if (!isFollowing || !element) return;
    let moving: Animation | undefined;
    const plan = () => {
      const before = moving;
      moving = element.animate(planned(positionTick, styleOf), { duration: AHEAD, fill: 'forwards' });
      before?.cancel();
    };
    plan();
    const timer = setInterval(plan, EVERY);
    return () => {
      clearInterval(timer);
      moving?.cancel();
    };
  }, [ref, isFollowing, styleOf]);
}

/** Where it is from now on, by the tick so many seconds later. Where the music goes back to its beginning, it jumps there. */
export function planned(
  tickLater: (seconds: number) => number,
  styleOf: (tick: number) => Keyframe,
): Keyframe[] {
  const frames: Keyframe[] = [];
  let last = -Infinity;
  for (let at = 0; at <= AHEAD; at += STEP) {
    const tick = tickLater(at / 1000);
    const offset = at / AHEAD;
    if (tick < last) frames.push({ ...frames.at(-1), offset });
    frames.push({ ...styleOf(tick), offset });
    last = tick;
  }
  return frames;
}
