import { useMutation } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import type { Recipe } from '../../../core/normalize/recipe.ts';
import { sendJson } from '../../api/client.ts';
import { renew, tellProblem, type BatchWire } from '../../api/queries.ts';

/** Begins to look what a recipe would change about phrases, and goes to where that is shown. */
export function useStartBatch() {
  const navigate = useNavigate();
  return useMutation({
    mutationFn: (request: { title: string; recipe: Recipe | null; phraseIds: readonly string[] }) =>
      sendJson<BatchWire>('POST', '/api/batches', request),
    onError: tellProblem,
    onSuccess: async ({ id }) => {
      await renew('batches');
      void navigate(`/normalize/batch/${id}`);
    },
  });
}
