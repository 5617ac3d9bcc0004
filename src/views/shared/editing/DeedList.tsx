import { Link } from 'react-router';
import type { DeedKind } from '../../../server/db/schema.ts';
import type { DeedTold } from '../../../server/people/deeds.ts';
import { ago } from '../../../ui/time.ts';
import type { Wire } from '../../api/queries.ts';

/** Where a thing of a kind is looked at. */
const AT: Partial<Record<DeedKind, string>> = {
  take: '/split/',
  phrase: '/normalize/',
  basket: '/handoff/',
  weave: '/reuse/weave/',
};

/** Who did what, a line each. */
export function DeedList({
  deeds,
  isOfMany = false,
}: {
  deeds: readonly Wire<DeedTold>[];
  isOfMany?: boolean;
}) {
  if (deeds.length === 0) return <p className="text-sm text-muted">Nothing yet.</p>;
  return (
    <ul className="text-sm">
      {deeds.map(({ id, by, did, name, kind, subjectId, at }) => (
        <li key={id} className="quiet-row flex items-baseline gap-3 py-1">
          <span className="min-w-0 flex-1">
            <span className="font-bold">{by ?? 'Somebody'}</span> {did}
            {isOfMany && name && name !== by && (
              <>
                {': '}
                {AT[kind] ? (
                  <Link
                    to={`${AT[kind]}${subjectId}`}
                    className="underline decoration-rule hover:decoration-ink"
                  >
                    {name}
                  </Link>
                ) : (
                  name
                )}
              </>
            )}
          </span>
          <time dateTime={at} className="flex-none text-muted" title={new Date(at).toLocaleString()}>
            {ago(at)}
          </time>
        </li>
      ))}
    </ul>
  );
}
