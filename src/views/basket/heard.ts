import { useEffect, useRef } from 'react';
import { leavingOwn } from '../../core/exchange/own-out.ts';
import { isPitched } from '../../core/phrase/clip.ts';
import type { ProjectSetting } from '../../core/reuse/in-project.ts';
import { refresh, usePlayer, type Listening } from '../../sound/player.ts';
import { useProjects, type PhraseWire } from '../api/queries.ts';
import { useBrowsing } from '../shared/phrases/browsing.ts';
import { phraseAtHand, phraseListening } from '../shared/phrases/listening.ts';
import type { BasketEdit, BasketRow } from './edit.ts';
import { ownWords } from './OwnWay.tsx';

/** The phrases of a basket by ear: one that leaves in a way of its own is heard in that way, also while the way is being chosen. */
export function useRowsHeard({ rows, projectId }: Pick<BasketEdit, 'rows' | 'projectId'>) {
  const { data: projects = [] } = useProjects();
  const project = projects.find(({ id }) => id === projectId) ?? null;
  const heardAs = (phrase: PhraseWire) =>
    asItLeaves(phrase, rows.find(({ id }) => id === phrase.id)?.own, project);
  const browsing = useBrowsing(heardAs);
  const sounding = usePlayer(({ state, listening }) => (state === 'playing' ? listening?.id : undefined));
  const own = JSON.stringify(rows.find(({ id }) => sounding === `phrase ${id}`)?.own ?? null);
  const heard = useRef({ sounding, own });
  useEffect(() => {
    const before = heard.current;
    heard.current = { sounding, own };
    if (before.sounding !== sounding || before.own === own) return;
    const phrase = phraseAtHand(sounding!.replace('phrase ', ''));
    if (phrase) refresh(heardAs(phrase));
  });
  return { ...browsing, sounding };
}

/** Its key, its tempo, and plain where it leaves so; fitted as somebody has it is the listening bar's. */
function asItLeaves(phrase: PhraseWire, own: BasketRow['own'], project: ProjectSetting | null): Listening {
  const listening = phraseListening(phrase);
  if (!own) return listening;
  const { takeKey } = phrase;
  const clip = leavingOwn(phrase.clip, own, { takeKey, key: 'captured', project });
  const fitting = own.fitting === 'plain' ? {} : phrase.fitting;
  const words = ownWords(own, isPitched(phrase.clip));
  return {
    ...listening,
    ...(words && { subtitle: `as it leaves: ${words}` }),
    lanes: [{ id: phrase.id, clip, fitting }],
  };
}
