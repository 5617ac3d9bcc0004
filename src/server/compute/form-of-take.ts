import { analyzeTake } from '../../core/analyze/analysis.ts';
import { byHandIn, toldIn } from '../../core/take/opened.ts';
import { formOfTake, type TakeForm } from '../../core/weave/sections-of.ts';
import { openStored, type StoredTake } from './stored-take.ts';

/** The form of a take as it stands, with what people have said of it. */
export function takeForm(stored: StoredTake, chart: string): TakeForm {
  const opened = openStored(stored);
  const { take, split } = opened;
  const { sections, chords, keys, bars } = analyzeTake(take, split, {
    byHand: byHandIn(opened),
    told: toldIn(opened),
  });
  return formOfTake(take, split, { sections, chords, key: keys[0] ?? null, bars, chart });
}
