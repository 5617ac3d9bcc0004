import { useMutation } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import type { Recipe } from '../../../core/normalize/recipe.ts';
import { sendJson } from '../../api/client.ts';
import { renew, tellProblem, type BatchWire } from '../../api/queries.ts';

/** Phrases that are named, or all that is found by what the library's address says. */
export type ChosenPhrases = { phraseIds: readonly string[] } | { filter: string };

/** Begins to look what a recipe would change about phrases, and goes to where that is shown. */
export function useStartBatch() {
  const navigate = useNavigate();
  return useMutation({
    mutationFn: (request: { title: string; recipe: Recipe | null } & ChosenPhrases) =>
      sendJson<BatchWire>('POST', '/api/batches', request),
    onError: tellProblem,
    onSuccess: async ({ id }) => {
      await renew('batches');
      void navigate(`/normalize/batch/${id}`);
    },
  });
}
