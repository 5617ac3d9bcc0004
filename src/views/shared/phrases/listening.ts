import { writtenChanges } from '../../../core/reuse/child.ts';
import { asCaptured } from '../../../core/reuse/in-project.ts';
import type { Clip } from '../../../core/phrase/clip.ts';
import type { Listening } from '../../../sound/player.ts';
import type { Lane } from '../../../sound/program.ts';
import { phraseQuery, queryClient, type PhraseWire } from '../../api/queries.ts';

/** A kept phrase to listen to: in its take's key, never by surprise in the key it is stored in. */
export function phraseListening(phrase: PhraseWire): Listening {
  return {
    id: `phrase ${phrase.id}`,
    title: phrase.name,
    subtitle: `${phrase.bars} ${phrase.bars === 1 ? 'bar' : 'bars'} from ${phrase.takeName}`,
    lanes: [heardLane(phrase)],
  };
}

/** A phrase as it is heard, with the chords it was played over. */
export function heardLane(phrase: PhraseWire): Lane {
  const over = writtenChanges(phrase.changes, phrase.meterNumerator);
  return { id: phrase.id, clip: heardClip(phrase.clip, phrase), over, fitting: phrase.fitting };
}

/** A phrase's clip in the key of its take. */
export function heardClip(clip: Clip, phrase: Pick<PhraseWire, 'takeKey'>): Clip {
  return asCaptured(clip, phrase.takeKey);
}

/** Fetches a phrase, or takes it from the cache. */
export function fetchPhrase(id: string): Promise<PhraseWire> {
  return queryClient.fetchQuery({ ...phraseQuery(id), staleTime: 30_000 });
}

/** A phrase that has been fetched and is as it was then; undefined where it has to be fetched first. */
export function phraseAtHand(id: string): PhraseWire | undefined {
  const known = queryClient.getQueryState<PhraseWire>(phraseQuery(id).queryKey);
  return known?.isInvalidated ? undefined : known?.data;
}
