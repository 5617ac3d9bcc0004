import { mergedFields, type Merged } from '../merge/three-way.ts';

/** What can be changed of a phrase, as far as merging has to know of it. */
interface Mergeable {
  tags: readonly string[];
  recipe: { steps: readonly { step: string }[] };
}

/** Two changes of one phrase put together: tags one by one, the recipe step by step. */
export function mergedPhraseEdits<Edit extends Mergeable>(
  base: Edit,
  mine: Edit,
  theirs: Edit,
): Merged<Edit> {
  return mergedFields(base, mine, theirs, {
    tags: (tag: string) => tag,
    'recipe.steps': ({ step }: { step: string }) => step,
  });
}
