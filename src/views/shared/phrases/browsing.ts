import { useCallback, useEffect, useRef } from 'react';
import { pinsOf } from '../../../sound/arrange.ts';
import { listen, toggleListening, togglePins, usePlayer, type Listening } from '../../../sound/player.ts';
import { sendJson } from '../../api/client.ts';
import { tellProblem, type PhraseWire } from '../../api/queries.ts';
import { fetchPhrase, phraseAtHand, phraseListening } from './listening.ts';

/**
 * Going through phrases by ear: what is asked for last sounds, however slowly the others arrive. Each is heard as it was captured, or as the view
 * says.
 */
export function useBrowsing(listeningTo: (phrase: PhraseWire) => Listening = phraseListening) {
  // What was asked for last; while it is being fetched, it counts as sounding.
  const asked = useRef<string | undefined>(undefined);
  const to = useRef(listeningTo);
  to.current = listeningTo;
  // What was heard last, the newest last: two are held against each other.
  const heard = useRef<string[]>([]);
  const starting = usePlayer(({ state, listening }) =>
    state === 'playing' || state === 'loading' ? listening?.id : undefined,
  );
  const hear = useCallback((id: string, toggles: boolean) => {
    asked.current = id;
    const begin = async (phrase: PhraseWire) => {
      if (asked.current !== id) return;
      asked.current = undefined;
      heard.current = [...heard.current.filter((one) => one !== id), id].slice(-2);
      const listening = to.current(phrase);
      const begun = toggles ? toggleListening(listening) : listen(listening);
      wasHeard(id);
      await begun;
    };
    // What is at hand sounds within the press of the key, before rows are drawn anew.
    const known = phraseAtHand(id);
    (known ? begin(known) : fetchPhrase(id).then(begin)).catch(tellProblem);
  }, []);
  return {
    hear,
    /** The one that was heard before the last; heard so, the two have changed places. */
    hearBefore: () => {
      const [before] = heard.current;
      if (heard.current.length === 2) hear(before!, false);
    },
    /** While something sounds, what is chosen next sounds next. */
    hearNext: (id: string) => {
      const now = asked.current ? `phrase ${asked.current}` : starting;
      if (now?.startsWith('phrase ') && now !== `phrase ${id}`) hear(id, false);
    },
  };
}

/** Rows on either side of the chosen one that are fetched ahead: an arrow then finds its sound at hand. */
const AHEAD = 5;

/** Fetches the phrases around the one that is chosen. */
export function useFetchedAhead(ids: readonly string[], selected: string | undefined): void {
  const at = selected === undefined ? -1 : ids.indexOf(selected);
  const around = at < 0 ? '' : ids.slice(Math.max(0, at - AHEAD), at + AHEAD + 1).join(' ');
  useEffect(() => {
    // What cannot be fetched ahead says so when it is asked for.
    for (const id of around.split(' ').filter(Boolean)) fetchPhrase(id).catch(() => {});
  }, [around]);
}

/** Lets phrases go on playing while others are tried, or not any more. */
export async function pinPhrases(ids: readonly string[]): Promise<void> {
  const phrases = await Promise.all(ids.map(fetchPhrase));
  togglePins(phrases.flatMap((phrase) => pinsOf(phraseListening(phrase))));
}

/** The library knows what was listened to. Not worth a word where it could not be told. */
function wasHeard(id: string): void {
  sendJson('POST', '/api/phrases/heard', { phraseIds: [id] }).catch(() => {});
}
