import type { Library } from '../db/client.ts';
import { tellNews, type Progress } from './news.ts';

/** It is told so often at the most, in milliseconds: a page that shows it draws no more often. */
const TELL_EVERY = 400;

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
