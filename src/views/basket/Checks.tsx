import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { Check } from '../../core/exchange/checks.ts';
import { request } from '../api/client.ts';
import type { BasketWire } from '../api/queries.ts';
import { CheckList, type Told } from '../shared/leaving/CheckList.tsx';

/** What the other person would stumble over: what stops the pack first, then what is to be known, then what is well. */
export function Checks({ basket }: { basket: BasketWire }) {
  const { data, error } = useQuery({
    queryKey: ['basket', basket.id, 'checks', basket],
    queryFn: async () => (await request<{ checks: Check[] }>(`/api/baskets/${basket.id}/checks`)).checks,
    placeholderData: keepPreviousData,
  });
  if (basket.items.length === 0) return null;
  const checks = [...(data ?? []), ...ofTheLibrary(basket)];
  return (
    <section aria-label="Checks">
      <h2 className="mb-1">Checks</h2>
      {error && <p className="text-sm text-madder">{error.message}</p>}
      {!data && !error && <p className="text-sm text-muted">Looking through the files.</p>}
      <CheckList checks={checks} />
    </section>
  );
}

/** What the files cannot say: who made the phrases, and what was set aside since. */
function ofTheLibrary({ items }: BasketWire): Told[] {
  return items.flatMap(({ id, name, contributor, state }): Told[] => [
    ...(contributor
      ? []
      : [{ check: 'whose', state: 'warn' as const, id, text: `Whose "${name}" is was not said.` }]),
    ...(state === 'discarded'
      ? [
          {
            check: 'aside',
            state: 'warn' as const,
            id,
            text: `"${name}" is set aside in the library, and would still leave.`,
          },
        ]
      : []),
  ]);
}
