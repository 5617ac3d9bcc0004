import { withPreset } from '../../core/normalize/apply-preset.ts';
import { differenceOf, type Difference } from '../../core/normalize/difference.ts';
import { orderProblem } from '../../core/normalize/order.ts';
import type { Recipe } from '../../core/normalize/recipe.ts';
import type { Clip } from '../../core/phrase/clip.ts';
import { correctTake, type Correction } from '../../core/split/corrections.ts';
import { phraseContent, type PhraseSource } from '../library/phrase-content.ts';
import { originalOf, type StoredTake } from './stored-take.ts';

/** A phrase as it was cut: of which take, as corrected how, and from which of its notes. */
export interface CutFrom {
  stored: StoredTake;
  corrections: readonly Correction[];
  source: PhraseSource;
}

type Columns = ReturnType<typeof phraseContent>['columns'];

/** What a recipe makes of a phrase's captured notes, as its columns. */
export function contentOf({ stored, corrections, source }: CutFrom, recipe: Recipe): Columns {
  return phraseContent(correctTake(originalOf(stored), corrections), source, recipe).columns;
}

/** What a recipe without bars would change about a phrase. */
export type Look = { refused: string } | { after: Recipe; difference: Difference; name: string | undefined };

export function batchLook(from: CutFrom, own: Recipe, preset: Recipe, kept: Clip): Look {
  const after = withPreset(own, preset);
  const problem = orderProblem(after.steps);
  if (problem) return { refused: problem.reason };
  const take = correctTake(originalOf(from.stored), from.corrections);
  const { clip } = phraseContent(take, from.source, after);
  if (clip.notes.length === 0) return { refused: 'This recipe leaves no notes.' };
  return { after, difference: differenceOf(kept, clip), name: clip.name };
}
