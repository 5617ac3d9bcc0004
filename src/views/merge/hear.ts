import type { Clip } from '../../core/phrase/clip.ts';
import { toggleListening } from '../../sound/player.ts';
import { request } from '../api/client.ts';
import { tellProblem } from '../api/queries.ts';
import { fetchPhrase, phraseListening } from '../shared/phrases/listening.ts';

/** What sounds where a phrase of a pack is heard. */
export const theirsId = (row: { id: string }) => `theirs ${row.id}`;

/** Hears a phrase as it came, or stops it. */
export function hearTheirs(packId: string, row: { id: string; name: string }): void {
  request<{ name: string; clip: Clip }>(`/api/merge/${packId}/heard?phrase=${encodeURIComponent(row.id)}`)
    .then(({ name, clip }) =>
      toggleListening({
        id: theirsId(row),
        title: name,
        subtitle: 'as it came',
        lanes: [{ id: row.id, clip }],
      }),
    )
    .catch(tellProblem);
}

/** Hears ours, or stops it. */
export function hearOurs(id: string): void {
  fetchPhrase(id).then(phraseListening).then(toggleListening).catch(tellProblem);
}
