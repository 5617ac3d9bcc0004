import { useMutation } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import type { WeaveDetail } from '../../../server/library/weaves.ts';
import { sendJson } from '../../api/client.ts';
import { renew, tellProblem } from '../../api/queries.ts';
import { useCurrentProject } from '../project.ts';

/** Lays a take out as a weave, with its parts or only its sections, and opens it. */
export function useLayOut() {
  const navigate = useNavigate();
  const project = useCurrentProject();
  return useMutation({
    mutationFn: ({ takeId, withParts }: { takeId: string; withParts: boolean }) =>
      sendJson<WeaveDetail>('POST', `/api/takes/${takeId}/weave`, {
        withParts,
        projectId: project?.id ?? null,
      }),
    onError: tellProblem,
    onSuccess: ({ id }) => {
      void renew('weaves', 'phrases', 'facets', 'takes', 'take');
      void navigate(`/reuse/weave/${id}`);
    },
  });
}
