import { useMutation, useQuery } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { useLocation, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { plural } from '../../../core/words.ts';
import type { MakingDetail } from '../../../server/library/phrases/makings.ts';
import { request, sendJson } from '../../api/client.ts';
import { renew, tellProblem } from '../../api/queries.ts';
import { useCurrentProject } from '../project.ts';
import { didMake } from '../phrases/state.ts';

type Making = Pick<MakingDetail, 'id' | 'state' | 'of' | 'done' | 'phraseIds' | 'refused'>;

/**
 * Makes drafts of every part of many takes, one take after the other, on the server: it goes on where this page is left. What was made stays where
 * it is stopped.
 */
export function useMakeMany() {
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const project = useCurrentProject();
  const { data: making } = useQuery({
    queryKey: ['making'],
    queryFn: async () => (await request<{ making: Making | null }>('/api/makings')).making,
  });
  /** What was asked for in this window, until it is told how it ended. */
  const mine = useRef<string | null>(null);
  const begin = useMutation({
    mutationFn: (takes: readonly { id: string }[]) =>
      sendJson<{ id: string }>('POST', '/api/makings', {
        takeIds: takes.map(({ id }) => id),
        projectId: project?.id ?? null,
      }),
    onError: tellProblem,
    onSuccess: async ({ id }) => {
      mine.current = id;
      await renew('making');
    },
  });
  useEffect(() => {
    if (!making || making.state === 'running' || making.id !== mine.current) return;
    mine.current = null;
    for (const { name, reason } of making.refused) tellProblem(new Error(`${name}: ${reason}`));
    if (making.phraseIds.length === 0) return;
    didMake(making.phraseIds, pathname);
    toast.success(`${plural(making.phraseIds.length, 'draft')} made, each by the house recipe of its role.`);
    if (making.state === 'done') void navigate('/normalize');
  }, [making, pathname, navigate]);
  const running = making?.state === 'running' ? making : null;
  return {
    /** How far it is; null where none is made. */
    progress: running && { done: running.done, of: running.of },
    isBusy: begin.isPending || running !== null,
    make: (takes: readonly { id: string }[]) => begin.mutate(takes),
    stop: () =>
      void sendJson('POST', `/api/makings/${running!.id}/stop`)
        .then(() => renew('making'))
        .catch(tellProblem),
  };
}
