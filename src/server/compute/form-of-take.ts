import { analysisIn } from '../../core/take/opened.ts';
import { formOfTake, type TakeForm } from '../../core/weave/sections-of.ts';
import { openStored, type StoredTake } from './stored-take.ts';

/** The form of a take as it stands, with what people have said of it. */
export function takeForm(stored: StoredTake, chart: string): TakeForm {
  const opened = openStored(stored);
  const { sections, chords, keys, bars } = analysisIn(opened);
  return formOfTake(opened.take, opened.split, { sections, chords, key: keys[0] ?? null, bars, chart });
}
