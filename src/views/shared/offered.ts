import { useEffect } from 'react';
import { offer, refresh, usePlayer, type Listening } from '../../sound/player.ts';

/** Keeps what a view would sound in the listening bar, and what sounds of it up to date. True while it sounds. */
export function useOffered(listening: Listening | null): boolean {
  useEffect(() => {
    if (!listening) return;
    offer(listening);
    refresh(listening);
  }, [listening]);
  return usePlayer(({ state, listening: now }) => state === 'playing' && now?.id === listening?.id);
}
