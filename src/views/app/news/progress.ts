import type { Progress, WorkKind } from '../../../server/live/news.ts';
import { queryClient } from '../../api/queries.ts';
import { setProgress } from '../../shared/work.ts';
import { CONCERNS } from './concerns.ts';

/** What is asked for again where a piece of work has come further. */
const SHOWN: Readonly<Record<WorkKind, (id: string) => string[][]>> = {
  intake: (id) => [['intakes'], ['intake', id]],
  batch: (id) => [['batch', id], ['batches']],
  sweep: (id) => [['sweep', id], ['sweeps']],
  making: () => [['making']],
  marks: () => [['stages']],
  twice: () => [['twice']],
  mirror: () => [['mirrors']],
  // Nobody but the process that does it knows how far it is: that is told with the news.
  merge: () => [],
  pack: () => [],
};

/** What a piece of work has changed in the library once nobody works on it any more. */
const AFTER: Partial<Record<WorkKind, readonly string[]>> = {
  intake: CONCERNS.take.lists,
  batch: ['phrase', ...CONCERNS.phrase.lists],
  sweep: CONCERNS.take.lists,
  merge: ['pack-in', ...CONCERNS.pack.lists, ...CONCERNS.phrase.lists],
  making: CONCERNS.phrase.lists,
};

export function hearProgress({ work, id, done, of, isOver = false }: Progress): void {
  setProgress(work, id, isOver || of === undefined ? null : { done: done ?? 0, of });
  for (const queryKey of SHOWN[work](id)) void lookAgain(queryKey, isOver);
  const after = isOver ? AFTER[work] : undefined;
  for (const list of after ? ['stages', ...after] : [])
    void queryClient.invalidateQueries({ queryKey: [list] });
}

/** Looks at what may have come further before news were heard. */
export function lookAtWork(): void {
  for (const kind of ['intakes', 'intake', 'batch', 'sweep', 'making', 'twice', 'mirrors'])
    void lookAgain([kind], true);
}

/**
 * Asks again. A look that is under way is waited for: work tells of itself more often than a slow server answers. Of the last of it, that look
 * may know nothing yet: then it is looked once more.
 */
async function lookAgain(queryKey: readonly string[], isLast: boolean): Promise<void> {
  const wasLooking = queryClient.isFetching({ queryKey }) > 0;
  await queryClient.invalidateQueries({ queryKey }, { cancelRefetch: false });
  if (isLast && wasLooking) await queryClient.invalidateQueries({ queryKey });
}
