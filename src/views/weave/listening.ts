import { useCallback, useEffect, useState } from 'react';
import type { WeaveSound } from '../../core/weave/lay.ts';
import type { WeavePart } from '../../core/weave/weave.ts';
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

/** One part of a weave alone. */
export function partAlone(id: string, title: string, laid: WeaveSound, part: WeavePart): Listening {
  const alone = { ...laid, parts: laid.parts.filter((one) => one.part.id === part.id) };
  return listeningOf(`${id} ${part.id}`, `${title}: ${part.name}`, alone);
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
