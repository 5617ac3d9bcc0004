import { useCallback, useRef } from 'react';
import { listen, toggleListening, usePlayer } from '../../sound/player.ts';
import { sendJson } from '../api/client.ts';
import { tellProblem } from '../api/queries.ts';
import { fetchPhrase, phraseListening } from '../shared/phrases/listening.ts';

/** Going through phrases by ear: what is asked for last sounds, however slowly the others arrive. */
export function useBrowsing() {
  // What was asked for last; while it is being fetched, it counts as sounding.
  const asked = useRef<string | undefined>(undefined);
  const starting = usePlayer(({ state, listening }) =>
    state === 'playing' || state === 'loading' ? listening?.id : undefined,
  );
  const hear = useCallback((id: string, toggles: boolean) => {
    asked.current = id;
    fetchPhrase(id)
      .then(phraseListening)
      .then((listening) => {
        if (asked.current !== id) return;
        asked.current = undefined;
        wasHeard(id);
        return toggles ? toggleListening(listening) : listen(listening);
      })
      .catch(tellProblem);
  }, []);
  return {
    hear,
    /** While something sounds, what is chosen next sounds next. */
    hearNext: (id: string) => {
      const now = asked.current ? `phrase ${asked.current}` : starting;
      if (now?.startsWith('phrase ') && now !== `phrase ${id}`) hear(id, false);
    },
  };
}

/** The library knows what was listened to. Not worth a word where it could not be told. */
function wasHeard(id: string): void {
  sendJson('POST', '/api/phrases/heard', { phraseIds: [id] }).catch(() => {});
}
