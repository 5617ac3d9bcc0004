import { useMutation } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { sendJson } from '../../api/client.ts';
import { renew, tellProblem } from '../../api/queries.ts';
import { useCurrentProject } from '../project.ts';
import { didMake } from '../phrases/state.ts';
import type { BarRange } from './strand-columns.ts';

/** What is cut: bars of parts, and what they are for. */
export interface Cut {
  parts: readonly string[];
  bars: BarRange;
  tags?: string[];
}

/** Makes the phrase or sheaf that is asked for, and goes on to it. */
export function useMake(takeId: string, cut: () => Cut | Promise<Cut>) {
  const navigate = useNavigate();
  const project = useCurrentProject();
  return useMutation({
    mutationFn: async () => {
      const { parts, bars, tags } = await cut();
      return sendJson<{ phraseIds: string[] }>('POST', '/api/phrases', {
        takeId,
        parts,
        startBar: bars.start,
        bars: bars.count,
        projectId: project?.id ?? null,
        tags,
      });
    },
    onError: tellProblem,
    onSuccess: async ({ phraseIds }) => {
      didMake(phraseIds, `/split/${takeId}`);
      await renew('drafts', 'takes', 'take');
      void navigate(`/normalize/${phraseIds[0]}`);
    },
  });
}
