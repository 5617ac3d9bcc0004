import { useMutation, useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { CameBackPart } from '../../../server/library/handoff/came-back.ts';
import { Button } from '../../../ui/Button.tsx';
import { request, sendJson } from '../../api/client.ts';
import { renew, tellProblem } from '../../api/queries.ts';
import { tellKept } from '../../shared/takes/keep.ts';

/** Parts of a take that left as phrases once: which, what was done to them, and to keep them as children of those. */
export function CameBack({
  takeId,
  parts,
}: {
  takeId: string;
  parts: readonly { id: string; name: string }[];
}) {
  const { data: found = [] } = useQuery({
    queryKey: ['take', takeId, 'came-back'],
    queryFn: async () => (await request<{ parts: CameBackPart[] }>(`/api/takes/${takeId}/came-back`)).parts,
    staleTime: 60_000,
  });
  const keep = useMutation({
    mutationFn: ({ part, phraseId }: CameBackPart) =>
      sendJson<{ phraseId: string }>('POST', `/api/takes/${takeId}/came-back`, { part, phraseId }),
    onError: tellProblem,
    onSuccess: ({ phraseId }, { name }) =>
      tellKept(`It is kept as a child of "${name}".`, 'keeping it', [phraseId]),
    onSettled: () =>
      renew('take', 'takes', 'phrases', 'facets', 'children', 'relatives', 'lineage', 'stages'),
  });
  if (found.length === 0) return null;
  return (
    <section aria-label="Came back" className="mb-2 border border-rule bg-card text-sm">
      <h2 className="px-2 py-1 font-display text-sm font-semibold">Left here once</h2>
      <ul className="max-h-24 overflow-y-auto border-t border-thread">
        {found.map((one) => (
          <li key={one.part} className="flex items-center gap-2 px-2 py-0.5">
            <span className="min-w-0 flex-1 truncate">
              {parts.find(({ id }) => id === one.part)?.name ?? one.part}{' '}
              {one.verdict === 'perhaps' ? 'may be' : 'is'}{' '}
              <Link className="font-bold" to={`/normalize/${one.phraseId}`}>
                {one.name}
              </Link>
              , come back <span className="text-muted">{one.text || 'as it left'}</span>
            </span>
            <Button
              small
              disabled={keep.isPending}
              aria-label={`Keep as its child: ${one.name}`}
              onClick={() => keep.mutate(one)}
            >
              Keep as its child
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
