import { useQueries, useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { Purpose } from '../../core/music/form.ts';
import type { Role } from '../../core/split/roles.ts';
import type { WovenPhrase } from '../../core/weave/cell.ts';
import type { WeavePhrase } from '../../core/weave/proposals.ts';
import { wovenOf } from '../../core/weave/woven.ts';
import type { Weave } from '../../core/weave/weave.ts';
import type { PhraseListItem } from '../../server/library/phrases/search.ts';
import { request } from '../api/client.ts';
import { phraseQuery, type PhraseWire } from '../api/queries.ts';
import { useLaidSheet, type LaidSheet } from './laid.ts';

const known = new WeakMap<PhraseWire, WovenPhrase>();

/** As a weave takes it, the same one for the same phrase: what it became in cells is kept by it. */
function wovenOnce(phrase: PhraseWire): WovenPhrase {
  const woven = known.get(phrase) ?? wovenOf(phrase);
  known.set(phrase, woven);
  return woven;
}

/** The phrases a weave has, as they come in; and the weave as it sounds, or why it cannot be laid. */
export function useLaid(weave: Weave): {
  phrases: ReadonlyMap<string, PhraseWire>;
  laid: LaidSheet | null;
  problem: string | null;
  isLoading: boolean;
  sheet: number;
  settled: () => Promise<LaidSheet | null>;
} {
  const ids = [...new Set(weave.cells.flatMap(({ phrase, fill }) => (fill ? [phrase, fill] : [phrase])))];
  const found = useQueries({ queries: ids.map((id) => ({ ...phraseQuery(id), retry: false })) });
  const there = found.flatMap(({ data }) => data ?? []);
  const names = there.map(({ id, updatedAt, state }) => `${id} ${String(updatedAt)} ${state}`).join();
  // eslint-disable-next-line react-hooks/exhaustive-deps -- phrases are told by their ids and versions
  const phrases = useMemo(() => new Map(there.map((phrase) => [phrase.id, phrase])), [names]);
  const woven = useMemo(
    () => new Map([...phrases].map(([id, phrase]) => [id, wovenOnce(phrase)])),
    [phrases],
  );
  const isLoading = found.some(({ isPending }) => isPending);
  const { number: sheet, ...result } = useLaidSheet(weave, isLoading ? null : woven);
  return { phrases, isLoading, sheet, ...result };
}

/** Kept phrases of a role, those that suit the project first. */
export function useCandidates(role: Role | null, projectId: string | null) {
  return useQuery({
    queryKey: ['phrases', 'candidates', role, projectId],
    enabled: role !== null,
    queryFn: async () => {
      const suits = projectId ? `&sort=fit&suits=${projectId}` : '&sort=name';
      return (await request<{ phrases: PhraseListItem[] }>(`/api/phrases?role=${role}${suits}`)).phrases;
    },
  });
}

/** Phrases of the library that are for something: fills, variations. */
export function usePhrasesFor(purpose: Purpose, more = '') {
  return useQuery({
    queryKey: ['phrases', 'for', purpose, more],
    queryFn: async () =>
      (await request<{ phrases: PhraseListItem[] }>(`/api/phrases?purpose=${purpose}${more}&sort=name`))
        .phrases,
  });
}

/** What is known of phrases for proposals. */
export function proposable(
  phrases: Iterable<
    Pick<PhraseListItem, 'id' | 'name' | 'role' | 'bars' | 'sheafId'> & {
      purpose?: Purpose | null;
      sourceName?: string | null;
    }
  >,
  purpose: Purpose | null,
): [string, WeavePhrase][] {
  return [...phrases].map(({ id, name, role, bars, sheafId, sourceName = null }) => [
    id,
    { id, name, role, bars, sheafId, purpose, sourceId: sourceName },
  ]);
}
