import { useMutation, useQuery } from '@tanstack/react-query';
import { RIGHTS } from '../../core/phrase/rights.ts';
import type { SourceDefaults as Defaults } from '../../server/library/sources.ts';
import { TagField } from '../../ui/fields/TagField.tsx';
import { request, sendJson } from '../api/client.ts';
import { renew, tellProblem } from '../api/queries.ts';

/** What the takes of each source have where nobody says otherwise: rights, and tags of what is made of them. */
export function SourceDefaults() {
  const { data, error } = useQuery({
    queryKey: ['source-defaults'],
    queryFn: async () => (await request<{ sources: Defaults[] }>('/api/sources/defaults')).sources,
  });
  const set = useMutation({
    mutationFn: ({ id, ...change }: Partial<Defaults> & { id: string }) =>
      sendJson('PATCH', `/api/sources/${id}`, change),
    onError: tellProblem,
    onSettled: () => renew('source-defaults'),
  });
  return (
    <section aria-label="What sources bring" className="grid gap-2">
      <h2 className="text-lg">What sources bring</h2>
      <p className="text-sm text-muted">
        Rights and tags of what comes in next from a device, program or folder, where nothing else is said.
      </p>
      {error && <p className="text-sm text-madder">{error.message}</p>}
      {data?.length === 0 && <p className="text-sm text-muted">No source yet.</p>}
      <ul className="grid gap-1.5">
        {data?.map(({ id, name, rights, tags }) => (
          <li
            key={id}
            className="grid grid-cols-[minmax(0,1fr)_170px_minmax(0,1.4fr)] items-center gap-3 text-sm"
          >
            <span className="truncate" title={name}>
              {name}
            </span>
            <input
              className="field h-7"
              aria-label={`Rights of what comes from ${name}`}
              placeholder="rights not said"
              list="usual-rights"
              defaultValue={rights}
              maxLength={200}
              onBlur={({ target }) => target.value !== rights && set.mutate({ id, rights: target.value })}
            />
            <TagField tags={tags} onChange={(next) => set.mutate({ id, tags: next })} />
          </li>
        ))}
      </ul>
      <datalist id="usual-rights">
        {RIGHTS.map((one) => (
          <option key={one} value={one} />
        ))}
      </datalist>
    </section>
  );
}
