import type { Accompaniment } from '../../../core/catalog/accompany.ts';
import { catalogOf } from '../../catalog/catalog.ts';
import { compute } from '../../compute/pool.ts';
import type { Library } from '../../db/client.ts';
import { relativesOf } from './children.ts';
import { LibraryError, notFound } from '../errors.ts';
import { wholePhrase } from './phrase-rows.ts';
import { clipOfRow } from './phrases.ts';
import { phraseRows, type PhraseListItem } from './search.ts';
import { asKept } from './twice.ts';

/** Who accompanies a tune. */
const ROLES = ['keys', 'guitar', 'pad'];

/** Phrases that are listened to note by note, and that are answered. */
const MOST_WEIGHED = 100;
const MOST_ANSWERED = 12;

/** Phrases that may accompany a tune: one, or the parts of a sheaf that do so together. */
export interface AccompanimentItem extends Accompaniment {
  phrases: Omit<PhraseListItem, 'fit'>[];
}

/** Kept phrases and sheaves of keys, guitar and pad that go under a tune, the best first. @throws LibraryError 404, 422 */
export async function accompanimentsFor(library: Library, id: string): Promise<AccompanimentItem[]> {
  const row = await wholePhrase(library.db, id);
  if (!row) throw notFound('phrase');
  const tune = clipOfRow(row);
  if (tune.notes.length === 0) throw new LibraryError(422, 'This phrase has no notes to be accompanied.');
  const { ids } = await catalogOf(library).page({
    filter: { facets: { roles: ROLES } },
    sort: 'fit',
    suits: { key: tune.key, bpm: row.bpm, meter: `${row.meterNumerator}/${row.meterDenominator}` },
    pins: [id],
    beside: [],
    offset: 0,
    limit: MOST_WEIGHED,
  });
  // What was made for the tune is known, and no find.
  const made = new Set((await relativesOf(library.db, id)).children.map((child) => child.id));
  const kept = await asKept(
    library.db,
    ids.filter((other) => other !== id && !made.has(other)),
  );
  const others = [...kept.keys()];
  const found = await compute(
    'accompaniments',
    tune,
    others.map((other) => kept.get(other)!.clip),
  );
  const rows = await phraseRows(library.db, others);
  const groups = new Map<string, { ids: string[]; weighed: Accompaniment[] }>();
  others.forEach((other, k) => {
    const phrase = rows.get(other);
    // What was played to the tune already is no find.
    if (!phrase || (phrase.sheafId !== null && phrase.sheafId === row.sheafId)) return;
    const name = phrase.sheafId ?? other;
    const group = groups.get(name) ?? { ids: [], weighed: [] };
    group.ids.push(other);
    group.weighed.push(found[k]!);
    groups.set(name, group);
  });
  return [...groups.values()]
    .map(({ ids: members, weighed }): AccompanimentItem => {
      const best = weighed.reduce((a, b) => (b.score > a.score ? b : a));
      const score = Math.round(weighed.reduce((sum, one) => sum + one.score, 0) / weighed.length);
      return { ...best, score, phrases: members.map((member) => rows.get(member)!) };
    })
    .sort((a, b) => b.score - a.score)
    .slice(0, MOST_ANSWERED);
}
