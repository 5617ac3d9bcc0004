import { changesIn, type ChangesChord } from '../../core/analyze/changes.ts';
import { marksOf, type Marks } from '../../core/catalog/marks.ts';
import type { Key } from '../../core/music/key.ts';
import { withPreset } from '../../core/normalize/apply-preset.ts';
import { differenceOf, type Difference } from '../../core/normalize/difference.ts';
import { orderProblem } from '../../core/normalize/order.ts';
import type { Recipe } from '../../core/normalize/recipe.ts';
import type { Clip } from '../../core/phrase/clip.ts';
import { correctTake, type Correction } from '../../core/split/corrections.ts';
import { harmonyIn, type OpenedTake } from '../../core/take/opened.ts';
import {
  clipMade,
  phraseContent,
  type PhraseContent,
  type PhraseSource,
} from '../library/phrases/phrase-content.ts';
import { openStored, originalOf, type StoredTake } from './stored-take.ts';

/** A phrase as it was cut: of which take, as corrected how, and from which of its notes. */
export interface CutFrom {
  stored: StoredTake;
  corrections: readonly Correction[];
  source: PhraseSource;
  /** The changes it has, in its key, and of which bars; null where they are to be found. */
  known: { changes: ChangesChord[]; startBar: number; bars: number } | null;
}

/** The changes of some bars of a take in a key; none where it has no key. */
export function changesOfBarsIn(
  opened: OpenedTake,
  key: Key | null,
  bars: { startBar: number; bars: number },
): ChangesChord[] {
  return key ? changesIn(opened.take, harmonyIn(opened).chords, key, bars) : [];
}

/** What a recipe makes of a phrase's captured notes, as its rows. */
export function contentOf(from: CutFrom, recipe: Recipe): PhraseContent {
  const { stored, corrections, source, known } = from;
  const take = correctTake(originalOf(stored), corrections);
  const { phrase, content, marks } = phraseContent(take, source, recipe, (bars) =>
    known && known.startBar === bars.startBar && known.bars === bars.bars
      ? known.changes
      : changesOfBarsIn(openStored(stored), source.takeKey, bars),
  );
  return { phrase, content, marks };
}

/** What a phrase of an older version is compared by, and the changes of its bars where it does not know them. */
export function marksAgain(
  clip: Clip,
  phrase: { changes: ChangesChord[] | null; takeKey: Key | null; startBar: number; bars: number },
  stored: StoredTake | null,
): { marks: Marks; changes: ChangesChord[] } {
  const { takeKey } = phrase;
  const changes = phrase.changes ?? (stored ? changesOfBarsIn(openStored(stored), takeKey, phrase) : []);
  return { marks: marksOf(clip, changes, takeKey), changes };
}

/** What a recipe without bars would change about a phrase. */
export type Look = { refused: string } | { after: Recipe; difference: Difference; name: string | undefined };

export function batchLook(from: CutFrom, own: Recipe, preset: Recipe, kept: Clip): Look {
  const after = withPreset(own, preset);
  const problem = orderProblem(after.steps);
  if (problem) return { refused: problem.reason };
  const take = correctTake(originalOf(from.stored), from.corrections);
  const { clip } = clipMade(take, from.source, after);
  if (clip.notes.length === 0) return { refused: 'This recipe leaves no notes.' };
  return { after, difference: differenceOf(kept, clip), name: clip.name };
}
