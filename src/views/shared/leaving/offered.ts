import { useEffect } from 'react';
import { offer, refresh, usePlayer, type Listening } from '../../../sound/player.ts';

/**
 * Keeps what a view would sound in the listening bar, and what sounds of it up to date: changes are heard at once, or from the
 * next bar line on. True while it sounds.
 */
export function useOffered(listening: Listening | null, change: 'once' | 'bar' = 'once'): boolean {
  useEffect(() => {
    if (!listening) return;
    offer(listening);
    refresh(listening, change);
  }, [listening, change]);
  return usePlayer(({ state, listening: now }) => state === 'playing' && now?.id === listening?.id);
}
