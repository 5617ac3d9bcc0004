import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { Check } from '../../core/exchange/checks.ts';
import { plural } from '../../core/words.ts';
import { request } from '../api/client.ts';
import type { BasketWire } from '../api/queries.ts';

/** What the other person would stumble over: what stops the pack first, then what is to be known, then what is well. */
export function Checks({ basket }: { basket: BasketWire }) {
  const { data, error } = useQuery({
    queryKey: ['basket', basket.id, 'checks', basket],
    queryFn: async () => (await request<{ checks: Check[] }>(`/api/baskets/${basket.id}/checks`)).checks,
    placeholderData: keepPreviousData,
  });
  if (basket.items.length === 0) return null;
  const checks = [...(data ?? []), ...ofTheLibrary(basket)];
  const groups = [...new Set(checks.map(({ check, state }) => `${check} ${state}`))].map((name) =>
    checks.filter(({ check, state }) => `${check} ${state}` === name),
  );
  const open = groups.filter(([first]) => first!.state !== 'pass');
  const passed = groups.filter(([first]) => first!.state === 'pass').flat();
  return (
    <section aria-label="Checks">
      <h2 className="mb-1">Checks</h2>
      {error && <p className="text-sm text-madder">{error.message}</p>}
      {!data && !error && <p className="text-sm text-muted">Looking through the files.</p>}
      <ul className="grid gap-1 text-sm">
        {open.map((group) => (
          <Found key={`${group[0]!.check} ${group[0]!.state}`} group={group} />
        ))}
      </ul>
      {passed.length > 0 && (
        <details className="mt-1 text-sm">
          <summary className="min-h-6 cursor-pointer text-muted">
            <span className="text-good" aria-hidden="true">
              ✓
            </span>{' '}
            {plural(passed.length, 'check')} passed
          </summary>
          <ul className="grid gap-0.5 pl-4 text-muted">
            {passed.map(({ check, text }) => (
              <li key={check}>{text}</li>
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}

type Told = Pick<Check, 'state' | 'text' | 'id'> & { check: string };

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

/** Alike findings together: the first, and the others behind it. */
function Found({ group }: { group: readonly Told[] }) {
  const [first, ...others] = group as [Told, ...Told[]];
  const stops = first.state === 'stop';
  return (
    <li className="flex gap-1.5">
      <span className="text-madder" aria-hidden="true">
        {stops ? '×' : '!'}
      </span>
      <span className="min-w-0">
        {stops && <b>Stops the pack. </b>}
        <Line one={first} />
        {others.length > 0 && (
          <details>
            <summary className="min-h-6 cursor-pointer text-muted">and {others.length} more</summary>
            <ul className="max-h-40 overflow-auto">
              {others.map((one) => (
                <li key={`${one.id} ${one.text}`}>
                  <Line one={one} />
                </li>
              ))}
            </ul>
          </details>
        )}
      </span>
    </li>
  );
}

function Line({ one }: { one: Told }) {
  return (
    <>
      {one.text}{' '}
      {one.id && (
        <Link className="underline" to={`/normalize/${one.id}`}>
          Open it
        </Link>
      )}
    </>
  );
}
