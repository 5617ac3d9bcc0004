import type { ReactNode } from 'react';
import { keyName, type Mode } from '../../core/music/key.ts';
import { ROLES, type Role } from '../../core/split/roles.ts';
import type { FacetCounts } from '../../server/library/search.ts';
import { RoleMark } from '../../ui/RoleMark.tsx';
import type { FacetKey, Filter } from '../shared/phrases/filter.ts';

const ORDER: { facet: FacetKey; title: string; most: number }[] = [
  { facet: 'roles', title: 'Role', most: 15 },
  { facet: 'keys', title: 'Key', most: 8 },
  { facet: 'tempos', title: 'Tempo, BPM', most: 20 },
  { facet: 'meters', title: 'Meter', most: 8 },
  { facet: 'bars', title: 'Bars', most: 8 },
  { facet: 'tags', title: 'Tag', most: 14 },
];

/** What the list can be narrowed to, each with the number of phrases it would leave. */
export function Facets({ counts, filter }: { counts: FacetCounts | undefined; filter: Filter }) {
  if (!counts) return null;
  return (
    <div className="grid gap-4">
      {(counts.aside > 0 || filter.aside) && (
        <label className="flex min-h-6 cursor-pointer items-center gap-2 px-1 text-sm hover:bg-sunk">
          <input
            type="checkbox"
            className="size-3.5 flex-none accent-[var(--indigo)]"
            checked={filter.aside}
            onChange={(event) => filter.setAside(event.target.checked)}
            onClick={(event) => event.detail > 0 && event.currentTarget.blur()}
          />
          What is set aside
          <span className="ml-auto text-muted">{counts.aside.toLocaleString('en')}</span>
        </label>
      )}
      {ORDER.map(({ facet, title, most }) => {
        const values = sorted(facet, counts.facets[facet]);
        const shown = values.filter(({ value }, i) => i < most || filter.has(facet, value));
        if (shown.length === 0) return null;
        const largest = Math.max(...values.map(({ count }) => count));
        return (
          <fieldset key={facet}>
            <legend className="mb-1 font-display font-semibold">{title}</legend>
            {shown.map(({ value, count }) => (
              <label
                key={value}
                className={`relative flex min-h-6 cursor-pointer items-center gap-2 px-1 text-sm hover:bg-sunk ${
                  filter.has(facet, value) ? 'bg-select' : ''
                }`}
              >
                {facet === 'tempos' && (
                  <span
                    className="absolute inset-y-1 right-7 rounded-[1px] bg-thread-strong"
                    style={{ width: `${(count / largest) * 24}%` }}
                    aria-hidden="true"
                  />
                )}
                <input
                  type="checkbox"
                  className="size-3.5 flex-none accent-[var(--indigo)]"
                  checked={filter.has(facet, value)}
                  onChange={() => filter.toggle(facet, value)}
                  // After a click the keys go through the list again: Space listens.
                  onClick={(event) => event.detail > 0 && event.currentTarget.blur()}
                />
                <span className="relative truncate">{label(facet, value)}</span>
                <span className="relative ml-auto text-muted">{count.toLocaleString('en')}</span>
              </label>
            ))}
            {values.length > shown.length && (
              <p className="px-1 text-xs text-muted">{values.length - shown.length} more, narrow first</p>
            )}
          </fieldset>
        );
      })}
    </div>
  );
}

function sorted(facet: FacetKey, values: FacetCounts['facets'][FacetKey]) {
  const list = [...values];
  if (facet === 'bars' || facet === 'tempos') return list.sort((a, b) => Number(a.value) - Number(b.value));
  if (facet === 'roles') {
    return list.sort((a, b) => ROLES.indexOf(a.value as Role) - ROLES.indexOf(b.value as Role));
  }
  return list.sort((a, b) => b.count - a.count || a.value.localeCompare(b.value));
}

function label(facet: FacetKey, value: string): ReactNode {
  if (facet === 'roles') return <RoleMark role={value as Role} />;
  if (facet === 'tempos') return `${value} to ${Number(value) + 9}`;
  if (facet === 'keys') {
    const [tonic, mode] = value.split(' ');
    return keyName({ tonic: Number(tonic), mode: mode as Mode });
  }
  return value;
}
