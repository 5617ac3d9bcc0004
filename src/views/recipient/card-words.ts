import type { Card } from '../../core/exchange/card.ts';
import { plural } from '../../core/words.ts';

const READS: Readonly<Record<Card['reads'], string>> = {
  nothing: '',
  lead: 'reads lead sheets',
  score: 'reads scores',
  tab: 'reads tablature',
};

/** What is on a card, in a line. */
export function cardWords({ drumMap, roles, pedal, headroomDb, format, reads, previews }: Card): string {
  const said = [
    drumMap.length > 0 ? 'a kit of their own' : '',
    ...Object.entries(roles).flatMap(([role, card]) =>
      card.ms ? [`${role} ${Math.abs(card.ms)} ms ${card.ms < 0 ? 'early' : 'late'}`] : [],
    ),
    READS[reads],
    pedal ? '' : 'no pedal',
    headroomDb > 0 ? `${headroomDb} dB down` : '',
    format === 0 ? 'one track' : '',
    previews ? 'with previews' : '',
  ].filter(Boolean);
  const others = Object.keys(roles).length;
  return said.join(', ') || (others > 0 ? plural(others, 'role') : 'nothing on the card yet');
}
