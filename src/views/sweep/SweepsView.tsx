import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { plural } from '../../core/words.ts';
import type { SweepItem } from '../../server/library/takes/sweeps.ts';
import { EmptyState } from '../../ui/EmptyState.tsx';
import { request } from '../api/client.ts';
import type { Wire } from '../api/queries.ts';
import { CaptureHeading } from '../shared/CaptureHeading.tsx';
import { SweepForm } from './SweepForm.tsx';

/** Sweeps: one source asked the same in many ways; a new one, and those there are. */
export default function SweepsView() {
  const { data, error } = useQuery({
    queryKey: ['sweeps'],
    queryFn: async () => (await request<{ sweeps: Wire<SweepItem>[] }>('/api/sweeps')).sweeps,
  });
  if (error) return <EmptyState title="The sweeps could not be loaded">{error.message}</EmptyState>;
  return (
    <div className="flex min-w-0 flex-1 flex-col overflow-auto px-5 pt-3 pb-8">
      <CaptureHeading />
      <div className="w-full max-w-5xl">
        <p className="mb-4 max-w-2xl text-muted">
          One source asked the same in many ways, one after another. What differs is kept, what comes again is
          told from it.
        </p>
        <SweepForm />
        {data && data.length > 0 && (
          <section className="mt-8">
            <h2 className="border-b border-rule pb-1 text-base">Sweeps</h2>
            <ul>
              {data.map(({ id, name, state, runs, waiting }) => (
                <li key={id} className="flex items-baseline gap-3 border-b border-thread py-2">
                  <Link className="font-bold" to={`/capture/sweep/${id}`}>
                    {name}
                  </Link>
                  <span className="text-sm text-muted tabular-nums">
                    {plural(runs, 'run')}
                    {waiting > 0 ? `, ${runs - waiting} done${state === 'stopped' ? ', stopped' : ''}` : ''}
                  </span>
                </li>
              ))}
            </ul>
          </section>
        )}
      </div>
    </div>
  );
}
