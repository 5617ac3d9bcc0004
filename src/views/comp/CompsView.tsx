import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { plural } from '../../core/words.ts';
import type { CompItem } from '../../server/library/takes/comps.ts';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { request } from '../api/client.ts';
import type { Wire } from '../api/queries.ts';
import { SetAsideButton } from '../shared/editing/SetAsideButton.tsx';

/** Comps that were begun, the last changed first. */
export default function CompsView() {
  const { data, error } = useQuery({
    queryKey: ['comps'],
    queryFn: async () => (await request<{ comps: Wire<CompItem>[] }>('/api/comps')).comps,
  });
  if (error) return <EmptyState title="The comps could not be loaded">{error.message}</EmptyState>;
  if (!data) return <Busy what="Looking for comps" />;
  if (data.length === 0)
    return (
      <EmptyState
        title="No comp is begun yet"
        action={
          <Link className="underline" to="/capture">
            Choose passes among the takes
          </Link>
        }
      >
        A comp lays several passes over one chart side by side, and makes one take of their best bars. Choose
        two takes or more under Capture, then “Comp”.
      </EmptyState>
    );
  return (
    <div className="mx-auto w-full max-w-4xl overflow-auto px-5 pt-4 pb-8">
      <h1 className="text-xl">Comps</h1>
      <p className="mt-1 max-w-xl text-muted">
        Several passes over one chart, and the best bars of them as one take. Choose passes under Capture to
        begin another.
      </p>
      <ul className="mt-4">
        {data.map(({ id, title, takes, takeId }) => (
          <li key={id} className="flex items-baseline gap-3 border-t border-rule py-2">
            <Link className="text-base font-bold" to={`/split/comp/${id}`}>
              {title}
            </Link>
            <span className="min-w-0 flex-1 text-sm text-muted">
              {plural(takes, 'pass', 'passes')}
              {takeId && (
                <>
                  , kept as{' '}
                  <Link className="underline" to={`/split/${takeId}`}>
                    a take
                  </Link>
                </>
              )}
            </span>
            <SetAsideButton kind="comp" id={id} name={title} />
          </li>
        ))}
      </ul>
    </div>
  );
}
