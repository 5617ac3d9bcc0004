import { useInfiniteQuery } from '@tanstack/react-query';
import type { DeedTold } from '../../server/people/deeds.ts';
import { Button } from '../../ui/Button.tsx';
import { request } from '../api/client.ts';
import type { Wire } from '../api/queries.ts';
import { DeedList } from '../shared/editing/DeedList.tsx';

/** Who did what in the whole library, the latest first. */
export function Record() {
  const { data, hasNextPage, fetchNextPage, isFetchingNextPage } = useInfiniteQuery({
    queryKey: ['deeds', 'all'],
    initialPageParam: '',
    queryFn: async ({ pageParam }) =>
      (await request<{ deeds: Wire<DeedTold>[] }>(`/api/deeds${pageParam && `?before=${pageParam}`}`)).deeds,
    getNextPageParam: (last) => (last.length < 100 ? null : last.at(-1)!.at),
  });
  const deeds = data?.pages.flat() ?? [];
  return (
    <section aria-label="Who did what" className="mt-6">
      <h2 className="mb-1 text-lg">Who did what</h2>
      <DeedList deeds={deeds} isOfMany />
      {hasNextPage && (
        <Button small className="mt-2" disabled={isFetchingNextPage} onClick={() => void fetchNextPage()}>
          Earlier
        </Button>
      )}
    </section>
  );
}
