import { useCallback, useEffect, useState } from 'react';
import type { WeaveSound } from '../../core/weave/lay.ts';
import { plural } from '../../core/words.ts';
import { toggleListening, type Listening } from '../../sound/player.ts';

/** A weave, or some of it, to be listened to: a lane a part. */
export function listeningOf(id: string, title: string, laid: WeaveSound): Listening {
  return {
    id: `weave ${id}`,
    title,
    subtitle: `${plural(laid.bars, 'bar')}, ${plural(laid.parts.length, 'part')}`,
    lanes: laid.parts.map(({ part, clip }) => ({ id: part.id, clip })),
  };
}

/** Listens, or stops; where it is not laid yet, as soon as it is. */
export function useListenOnceThere(listening: Listening | null): () => void {
  const [isWanted, setIsWanted] = useState(false);
  useEffect(() => {
    if (!isWanted || !listening) return;
    setIsWanted(false);
    void toggleListening(listening);
  }, [isWanted, listening]);
  return useCallback(() => setIsWanted(true), []);
}
