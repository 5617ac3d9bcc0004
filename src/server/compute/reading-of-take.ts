import { analyzeTake } from '../../core/analyze/analysis.ts';
import { completed, readingOf, type Reading } from '../../core/analyze/reading.ts';
import { toldIn } from '../../core/take/opened.ts';
import { openStored, type StoredTake } from './stored-take.ts';

/** What is found in a take where it stands, without what people said of it. */
export function readingFor(stored: StoredTake): Reading {
  const opened = openStored(stored);
  const told = toldIn(opened);
  const found = analyzeTake(opened.take, opened.split);
  return told ? completed(told, readingOf(found), found.bars) : readingOf(found);
}
