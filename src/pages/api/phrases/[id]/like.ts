import { LIKE_WEIGHTS, type LikeWeights } from '../../../../core/catalog/similar.ts';
import { LibraryError } from '../../../../server/library/errors.ts';
import { likeThis } from '../../../../server/library/phrases/twice.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** Phrases most like one, by `rhythm`, `pitch` and `chords`: how much each counts, 0..1. */
export const GET = endpoint((library, context) => {
  const { searchParams } = context.url;
  const weights = Object.fromEntries(
    LIKE_WEIGHTS.map((name) => [name, Number(searchParams.get(name) ?? 1)]),
  ) as LikeWeights;
  if (Object.values(weights).some((weight) => !(weight >= 0 && weight <= 1)))
    throw new LibraryError(400, 'A weight is a number from 0 to 1.');
  return likeThis(library, pathId(context), weights);
});
