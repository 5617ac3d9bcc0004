import { create } from 'zustand';
import type { WorkKind } from '../../server/live/news.ts';

/** How far a piece of work is. */
export interface HowFar {
  done: number;
  of: number;
}

/** Pieces of work that somebody works on, as far as the news tell how far they are. */
const useWork = create<Record<string, HowFar | null>>(() => ({}));

const nameOf = (work: WorkKind, id: string) => `${work} ${id}`;

export function setProgress(work: WorkKind, id: string, howFar: HowFar | null): void {
  useWork.setState({ [nameOf(work, id)]: howFar });
}

/** How far a piece of work is; null where nobody works on it, or nobody has said. */
export function useHowFar(work: WorkKind, id: string): HowFar | null {
  return useWork((all) => all[nameOf(work, id)] ?? null);
}
