import { QueryClient, useQuery, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { readTakes, type Take } from '../../core/capture/take.ts';
import type { BasketDetail, BasketListItem } from '../../server/library/baskets.ts';
import type { Job } from '../../server/library/jobs.ts';
import type { DraftItem, PhraseDetail } from '../../server/library/phrases.ts';
import type { Project } from '../../server/library/projects.ts';
import type { StageCounts } from '../../server/library/status.ts';
import type { TakeDetail, TakeRow } from '../../server/library/takes.ts';
import { request, requestBytes } from './client.ts';

/** Dates travel as text. */
export type Wire<T> = T extends Date
  ? string
  : T extends (infer Item)[]
    ? Wire<Item>[]
    : T extends object
      ? { [Key in keyof T]: Wire<T[Key]> }
      : T;

export const queryClient = new QueryClient({
  defaultOptions: { queries: { retry: false, staleTime: 5_000, refetchOnWindowFocus: true } },
});

/** A sentence at the edge of the screen for what could not be done. */
export function tellProblem(error: unknown): void {
  toast.error(error instanceof Error ? error.message : String(error));
}

export function useStages() {
  return useQuery({ queryKey: ['stages'], queryFn: () => request<StageCounts>('/api/status') });
}

export function useTakes() {
  return useQuery({
    queryKey: ['takes'],
    queryFn: async () => (await request<{ takes: Wire<TakeRow>[] }>('/api/takes')).takes,
  });
}

export type TakeWire = Wire<TakeDetail>;

export function useTakeRow(id: string | undefined) {
  return useQuery({
    queryKey: ['take', id],
    enabled: id !== undefined,
    queryFn: () => request<TakeWire>(`/api/takes/${id}`),
  });
}

/** A take read from its original bytes, here in the page. Never changes. */
export function useTakeNotes(row: Pick<TakeWire, 'id' | 'pattern'> | undefined) {
  return useQuery({
    queryKey: ['take-notes', row?.id, row?.pattern],
    enabled: row !== undefined,
    staleTime: Infinity,
    queryFn: async (): Promise<Take> =>
      readTakes(await requestBytes(`/api/takes/${row!.id}/file`))[row!.pattern]!,
  });
}

export type PhraseWire = Wire<PhraseDetail>;

export const phraseQuery = (id: string) => ({
  queryKey: ['phrase', id],
  queryFn: () => request<PhraseWire>(`/api/phrases/${id}`),
});

export function useDrafts() {
  return useQuery({
    queryKey: ['drafts'],
    queryFn: async () => (await request<{ drafts: DraftItem[] }>('/api/phrases/drafts')).drafts,
  });
}

export function useBaskets() {
  return useQuery({
    queryKey: ['baskets'],
    queryFn: async () => (await request<{ baskets: BasketListItem[] }>('/api/baskets')).baskets,
  });
}

export type BasketWire = Wire<BasketDetail>;

export function useBasket(id: string) {
  return useQuery({ queryKey: ['basket', id], queryFn: () => request<BasketWire>(`/api/baskets/${id}`) });
}

export function useProjects() {
  return useQuery({
    queryKey: ['projects'],
    queryFn: async () => (await request<{ projects: Wire<Project>[] }>('/api/projects')).projects,
  });
}

export function useLastIntake() {
  return useQuery({
    queryKey: ['intake'],
    queryFn: async () => (await request<{ intake: Wire<Job> | null }>('/api/jobs')).intake,
  });
}

/**
 * Takes over the answer to a write, unless later writes of the same kind are still under way: what is shown
 * already counts them in, and an older answer would take them back for a moment.
 */
export function takeOver(client: QueryClient, key: readonly string[], answer: unknown): void {
  if (client.isMutating({ mutationKey: key }) <= 1) client.setQueryData(key, answer);
}

/** Call after something was written: what depends on it is asked for again. */
export function useRefresh() {
  const client = useQueryClient();
  return (...keys: string[]) =>
    Promise.all([...keys, 'stages'].map((key) => client.invalidateQueries({ queryKey: [key] })));
}
