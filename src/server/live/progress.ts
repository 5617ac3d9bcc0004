import type { Library } from '../db/client.ts';
import { tellNews } from './news.ts';

/** Kinds of long work. */
export type WorkKind =
  'intake' | 'batch' | 'sweep' | 'merge' | 'making' | 'marks' | 'pack' | 'twice' | 'mirror';

/** Long work has come further. */
export interface Progress {
  type: 'progress';
  work: WorkKind;
  /** The piece of it. */
  id: string;
  /** How far it is, where that is known to nobody but the process that works on it. */
  done?: number;
  of?: number;
  /** Nobody works on it any more. */
  isOver?: boolean;
}

/** It is told so often at the most, in milliseconds: a page that shows it draws no more often. */
const TELL_EVERY = 250;

const toldAt = new Map<string, number>();

/** Tells all windows how far a piece of work is; the last of it always, others not too often. */
export function tellProgress(
  library: Pick<Library, 'db' | 'address'>,
  progress: Omit<Progress, 'type'>,
): void {
  const name = `${progress.work} ${progress.id}`;
  const now = Date.now();
  if (!progress.isOver && now - (toldAt.get(name) ?? 0) < TELL_EVERY) return;
  if (progress.isOver) toldAt.delete(name);
  else toldAt.set(name, now);
  void tellNews(library, { type: 'progress', ...progress });
}
