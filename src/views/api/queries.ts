import { QueryClient, useInfiniteQuery, useIsMutating, useQuery } from '@tanstack/react-query';
import { toast } from 'sonner';
import type { PersonRole } from '../../core/people/roles.ts';
import type { House } from '../../core/normalize/house.ts';
import type { BatchRow, BatchWithCounts } from '../../server/library/phrases/batches.ts';
import type { SourceHabits, TakeHabits } from '../../server/library/takes/habits.ts';
import type { Feel, Preset } from '../../server/library/presets.ts';
import type { BasketDetail, BasketListItem } from '../../server/library/handoff/baskets.ts';
import type { UnfinishedCapture } from '../../server/library/takes/captures.ts';
import type { variantsOf } from '../../server/library/phrases/twice.ts';
import type { ChildItem, relativesOf } from '../../server/library/phrases/children.ts';
import type { LibraryHarmony } from '../../core/catalog/harmony.ts';
import type { KeptChanges } from '../../server/library/takes/harmony.ts';
import type { JobItem, JobWithCounts } from '../../server/library/jobs.ts';
import type { DraftItem, PhraseDetail } from '../../server/library/phrases/phrases.ts';
import type { Project } from '../../server/library/projects.ts';
import type { Recipient } from '../../server/library/handoff/recipients.ts';
import type { StageCounts } from '../../server/library/keeping/status.ts';
import type { TakeBrief, TakeFilter, TakeRow } from '../../server/library/takes/take-list.ts';
import type { TakeDetail } from '../../server/library/takes/takes.ts';
import { fetchCaptured } from './captured.ts';
import { request } from './client.ts';

/** Dates travel as text. */
export type Wire<T> = T extends Date
  ? string
  : // A number that knows what it counts is a number.
    T extends number
    ? T
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

/** What waits at each stage, where the library lies, and whether it is the demo's. */
export type Status = StageCounts & { folder: string; isDemo: boolean; unmarked: number };

export function useStages() {
  return useQuery({
    queryKey: ['stages'],
    queryFn: () => request<Status>('/api/status'),
  });
}

export type TakeRowWire = Wire<TakeRow>;

interface TakePage {
  total: number;
  takes: TakeRowWire[];
}

/** The list of takes that a query in the address asks for, a page after the other. */
export function useTakeList(query: string) {
  return useInfiniteQuery({
    queryKey: ['takes', 'list', query],
    initialPageParam: 0,
    queryFn: ({ pageParam }) => {
      const params = new URLSearchParams(query);
      params.set('offset', String(pageParam));
      return request<TakePage>(`/api/takes?${params}`);
    },
    getNextPageParam: (last, pages) => {
      const loaded = pages.reduce((sum, { takes }) => sum + takes.length, 0);
      return loaded < last.total && last.takes.length > 0 ? loaded : null;
    },
    placeholderData: (old) => old,
  });
}

/** The newest takes of a kind. */
export function useTakesThat(filter: TakeFilter) {
  return useQuery({
    queryKey: ['takes', filter],
    queryFn: () => request<TakePage>(`/api/takes?filter=${filter}`),
  });
}

export function useSources() {
  return useQuery({
    queryKey: ['sources'],
    queryFn: async () => (await request<{ sources: string[] }>('/api/sources')).sources,
  });
}

export type TakeWire = Wire<TakeDetail>;

export const takeRowQuery = (id: string | undefined) => ({
  queryKey: ['take', id],
  queryFn: () => request<TakeWire>(`/api/takes/${id}`),
});

export function useTakeRow(id: string | undefined) {
  return useQuery({ ...takeRowQuery(id), enabled: id !== undefined });
}

/** A take read from its original bytes, here in the page. Never changes. */
export function useCapturedTake(row: Pick<TakeWire, 'id' | 'pattern'> | undefined) {
  return useQuery({ ...capturedTakeQuery(row), enabled: row !== undefined });
}

export const capturedTakeQuery = (row: Pick<TakeWire, 'id' | 'pattern'> | undefined) => ({
  queryKey: ['take-captured', row?.id, row?.pattern],
  staleTime: Infinity,
  queryFn: () => fetchCaptured(row!.id, row!.pattern),
});

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

export type RelativesWire = Wire<
  Awaited<ReturnType<typeof relativesOf>> & { variants: Awaited<ReturnType<typeof variantsOf>> }
>;

/** What a phrase was made of, and what was made of it. */
export function useRelatives(id: string) {
  return useQuery({
    queryKey: ['relatives', id],
    queryFn: () => request<RelativesWire>(`/api/phrases/${id}/relatives`),
  });
}

/** Names of kept phrases that a filter finds: the first page of them. */
export function usePhraseNames(filter: string) {
  return useQuery({
    queryKey: ['phrases', 'names', filter],
    queryFn: async () =>
      (await request<{ phrases: { id: string; name: string }[] }>(`/api/phrases?sort=name&${filter}`))
        .phrases,
  });
}

export function useChildren() {
  return useQuery({
    queryKey: ['children'],
    queryFn: async () => (await request<{ children: ChildItem[] }>('/api/phrases/children')).children,
  });
}

/** The harmony of what is kept, counted. */
export function useHarmony() {
  return useQuery({
    queryKey: ['harmony'],
    queryFn: () => request<LibraryHarmony>('/api/harmony'),
  });
}

/** Changes that were kept, under their keys. */
export function useKeptChanges() {
  return useQuery({
    queryKey: ['changes'],
    queryFn: async () => (await request<{ changes: KeptChanges[] }>('/api/changes')).changes,
  });
}

export function useHouse() {
  return useQuery({ queryKey: ['house'], queryFn: () => request<House>('/api/house') });
}

export function usePresets() {
  return useQuery({
    queryKey: ['presets'],
    queryFn: async () => (await request<{ presets: Wire<Preset>[] }>('/api/presets')).presets,
  });
}

export function useFeels() {
  return useQuery({
    queryKey: ['feels'],
    queryFn: async () => (await request<{ feels: Wire<Feel>[] }>('/api/feels')).feels,
  });
}

export type TakeHabitsWire = Wire<TakeHabits>;

/** What the takes of its source usually need; its moves are in the key, since they change the answer. */
export function useTakeHabits(id: string, moves: number) {
  // A move that is still on its way would not be counted.
  const isWriting = useIsMutating({ mutationKey: ['take', id] }) > 0;
  return useQuery({
    queryKey: ['take-habits', id, moves],
    enabled: !isWriting,
    placeholderData: (old) => old,
    queryFn: () => request<TakeHabitsWire>(`/api/takes/${id}/habits`),
    staleTime: 30_000,
  });
}

export type SourceHabitsWire = Wire<SourceHabits>;

export function useHabits() {
  return useQuery({
    queryKey: ['habits'],
    queryFn: async () => (await request<{ sources: SourceHabitsWire[] }>('/api/habits')).sources,
  });
}

export type BatchWire = Wire<BatchWithCounts>;

export function useBatches() {
  return useQuery({
    queryKey: ['batches'],
    queryFn: async () => (await request<{ batches: BatchWire[] }>('/api/batches')).batches,
  });
}

export type BatchRowWire = Wire<BatchRow>;

/** The rows of a batch, a phrase each; asked for again when anything about it has changed, but not while it is at work. */
export function useBatchRows(batch: BatchWire | undefined) {
  return useQuery({
    queryKey: ['batch', batch?.id, 'rows', batch && !isAtWork(batch.phase) && [batch.phase, batch.counts]],
    queryFn: async () => (await request<{ rows: BatchRowWire[] }>(`/api/batches/${batch!.id}?rows`)).rows,
    enabled: batch !== undefined && !isAtWork(batch.phase),
    placeholderData: (old) => old,
  });
}

/** How far a batch is; asked for again whenever it has come further. */
export function useBatch(id: string) {
  return useQuery({
    queryKey: ['batch', id],
    queryFn: () => request<BatchWire>(`/api/batches/${id}`),
  });
}

/** Whether a batch is being worked on. */
export function isAtWork(phase: BatchWire['phase']): boolean {
  return phase === 'looking' || phase === 'applying' || phase === 'takingBack';
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

export type RecipientWire = Wire<Recipient>;

/** People who get our music. */
export function useRecipients() {
  return useQuery({
    queryKey: ['recipients'],
    queryFn: async () => (await request<{ recipients: RecipientWire[] }>('/api/recipients')).recipients,
  });
}

export type ProjectWire = Wire<Project>;

export function useProjects() {
  return useQuery({
    queryKey: ['projects'],
    queryFn: async () => (await request<{ projects: ProjectWire[] }>('/api/projects')).projects,
  });
}

export type IntakeJob = Wire<JobWithCounts>;

/** The last intakes, newest first, from wherever they were begun; and the folder that is watched. */
export function useIntakes() {
  return useQuery({
    queryKey: ['intakes'],
    queryFn: () => request<{ intakes: IntakeJob[]; inbox: string }>('/api/jobs'),
  });
}

export type IntakeDetail = IntakeJob & {
  items: Omit<Wire<JobItem>, 'path'>[];
  takes: TakeBrief[];
  passes: { name: string; takeIds: string[] }[];
};

/** An intake with what came of each file; asked for again whenever it has come further. */
export function useIntakeDetail(id: string | undefined) {
  return useQuery({
    queryKey: ['intake', id],
    enabled: id !== undefined,
    queryFn: () => request<IntakeDetail>(`/api/jobs/${id}`),
  });
}

/** Recordings whose page was closed before their end; asked for again and again as long as one looks. */
export function useUnfinished(looks: boolean) {
  return useQuery({
    queryKey: ['captures'],
    enabled: looks,
    queryFn: async () => (await request<{ captures: Wire<UnfinishedCapture>[] }>('/api/captures')).captures,
    // One that still runs on another page may be left alone any moment.
    refetchInterval: 5_000,
  });
}

/**
 * Takes over the answer to a write, unless later writes of the same kind are still under way: what is shown
 * already counts them in, and an older answer would take them back for a moment.
 */
export function takeOver(client: QueryClient, key: readonly string[], answer: unknown): void {
  if (client.isMutating({ mutationKey: key }) <= 1) client.setQueryData(key, answer);
}

/** Call after something was written: what depends on it is asked for again. Other windows hear of it from the server. */
export function renew(...keys: string[]): Promise<unknown> {
  return Promise.all([...keys, 'stages'].map((key) => queryClient.invalidateQueries({ queryKey: [key] })));
}

/** Whether people sign in here, and who has. */
export interface Me {
  accounts: boolean;
  person: { id: string; name: string; role: PersonRole } | null;
  isNobodyThere: boolean;
  /** Passwords would travel as plain text. */
  isOpen: boolean;
}

export function useMe() {
  return useQuery({ queryKey: ['me'], queryFn: () => request<Me>('/api/me'), staleTime: 60_000 });
}
