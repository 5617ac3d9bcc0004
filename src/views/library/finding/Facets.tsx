import { ChevronRight } from 'lucide-react';
import type { ReactNode } from 'react';
import { DENSITIES, FEELS, keyOfWord, REGISTERS, type FacetName } from '../../../core/catalog/catalog.ts';
import type { FacetCounts, FacetValue } from '../../../core/catalog/find.ts';
import { PURPOSES } from '../../../core/music/form.ts';
import { keyName } from '../../../core/music/key.ts';
import { ROLES, type Role } from '../../../core/split/roles.ts';
import { usePlace } from '../../../ui/history/place.ts';
import { RoleMark } from '../../../ui/drawing/RoleMark.tsx';
import { DropPlace } from '../list/DragPhrases.tsx';
import type { Filter } from '../../shared/phrases/filter.ts';
import { ratingWords } from '../../shared/phrases/rating.ts';

interface Shown {
  facet: FacetName;
  title: string;
  /** Values that are shown before one narrows. */
  most: number;
  /** How its values are ordered; the most common first where nothing is said. */
  order?: readonly string[] | 'number';
  /** Folded until somebody opens it. */
  folded?: boolean;
}

const ORDER: readonly Shown[] = [
  { facet: 'roles', title: 'Role', most: 15, order: ROLES },
  { facet: 'keys', title: 'Key', most: 8 },
  { facet: 'tempos', title: 'Tempo, BPM', most: 20, order: 'number' },
  { facet: 'meters', title: 'Meter', most: 8 },
  { facet: 'bars', title: 'Bars', most: 8, order: 'number' },
  { facet: 'purposes', title: 'Purpose', most: 10, order: PURPOSES },
  { facet: 'tags', title: 'Tag', most: 14 },
  { facet: 'feels', title: 'Feel', most: 4, order: FEELS, folded: true },
  { facet: 'densities', title: 'Density', most: 3, order: DENSITIES, folded: true },
  { facet: 'registers', title: 'Register', most: 3, order: REGISTERS, folded: true },
  { facet: 'sounds', title: 'Sound', most: 16, folded: true },
  { facet: 'loops', title: 'Loop', most: 2, folded: true },
  { facet: 'pickups', title: 'Pickup', most: 2, folded: true },
  { facet: 'sources', title: 'Source', most: 12, folded: true },
  { facet: 'projects', title: 'Project', most: 12, folded: true },
  { facet: 'people', title: 'By', most: 12, folded: true },
  { facet: 'rights', title: 'Rights', most: 2, folded: true },
  { facet: 'ratings', title: 'Rating', most: 6, order: ['5', '4', '3', '2', '1', '0'], folded: true },
  { facet: 'used', title: 'In a basket', most: 2, folded: true },
  { facet: 'heard', title: 'Listened to', most: 2, folded: true },
];

/** What the list can be narrowed to, each with the number of phrases it would leave. */
export function Facets({
  counts,
  filter,
  onTags,
}: {
  counts: FacetCounts | undefined;
  filter: Filter;
  /** Opens what tags are called, and where they stand. */
  onTags: () => void;
}) {
  if (!counts) return null;
  return (
    <div className="grid gap-3">
      {(counts.aside > 0 || filter.aside) && (
        <Tick
          checked={filter.aside}
          count={counts.aside}
          onChange={() => filter.setAside(!filter.aside)}
          label="What is set aside"
        />
      )}
      {ORDER.map((shown) => (
        <Facet key={shown.facet} shown={shown} counts={counts} filter={filter} onTags={onTags} />
      ))}
    </div>
  );
}

function Facet({
  shown,
  counts,
  filter,
  onTags,
}: {
  shown: Shown;
  counts: FacetCounts;
  filter: Filter;
  onTags: () => void;
}) {
  const { facet, title, most, folded = false } = shown;
  const [isOpen, setOpen] = usePlace(`facet ${facet}`, !folded);
  const all = sorted(shown, counts.facets[facet]);
  const chosen = all.filter(({ value }) => filter.has(facet, value)).length;
  const values = all.filter(({ value }, i) => i < most || filter.has(facet, value));
  if (values.length === 0) return null;
  const largest = Math.max(...all.map(({ count }) => count));
  return (
    <fieldset className="min-w-0">
      <legend className="mb-0.5 w-full">
        <button
          type="button"
          aria-expanded={isOpen}
          className="flex min-h-6 w-full items-center gap-1 font-display font-semibold hover:text-indigo"
          onClick={() => setOpen(!isOpen)}
        >
          <ChevronRight size={12} aria-hidden="true" className={isOpen ? 'rotate-90' : ''} />
          {title}
          {!isOpen && (
            <span className="ml-auto pr-1 text-sm font-normal text-muted">
              {chosen > 0 ? `${chosen} chosen` : all.length}
            </span>
          )}
        </button>
      </legend>
      {isOpen && (
        <>
          {facet === 'keys' && (
            <Tick
              checked={filter.relatives}
              onChange={() => filter.setRelatives(!filter.relatives)}
              label="with relatives"
              title="A key finds its relatives too: E minor with G major, what has the same notes"
            />
          )}
          {values.map(({ value, count }) => {
            const tick = (
              <Tick
                key={value}
                checked={filter.has(facet, value)}
                count={count}
                share={facet === 'tempos' ? count / largest : undefined}
                under={facet === 'tags' && counts.tagsUnder[value] !== undefined}
                onChange={() => filter.toggle(facet, value)}
                label={label(facet, value)}
              />
            );
            return facet === 'tags' ? (
              <DropPlace key={value} tag={value}>
                {tick}
              </DropPlace>
            ) : (
              tick
            );
          })}
          {facet === 'tags' && (
            <button
              type="button"
              className="min-h-6 px-1 text-sm text-muted underline decoration-rule underline-offset-3 hover:text-ink"
              onClick={onTags}
            >
              Edit tags ...
            </button>
          )}
          {all.length > values.length && (
            <p className="px-1 text-xs text-muted">{all.length - values.length} more, narrow first</p>
          )}
        </>
      )}
    </fieldset>
  );
}

function Tick({
  checked,
  count,
  share,
  under = false,
  onChange,
  label,
  title,
}: {
  checked: boolean;
  count?: number;
  /** 0..1: a bar behind it. */
  share?: number | undefined;
  /** Stands under another. */
  under?: boolean;
  onChange: () => void;
  label: ReactNode;
  title?: string;
}) {
  return (
    <label
      title={title}
      className={`relative flex min-h-6 cursor-pointer items-center gap-2 px-1 text-sm hover:bg-sunk ${
        checked ? 'bg-select' : ''
      } ${under ? 'pl-4' : ''}`}
    >
      {share !== undefined && (
        <span
          className="absolute inset-y-1 right-7 rounded-[1px] bg-thread-strong"
          style={{ width: `${share * 24}%` }}
          aria-hidden="true"
        />
      )}
      <input
        type="checkbox"
        className="size-3.5 flex-none"
        checked={checked}
        onChange={onChange}
        // After a click the keys go through the list again: Space listens.
        onClick={(event) => event.detail > 0 && event.currentTarget.blur()}
      />
      <span className="relative truncate">{label}</span>
      {count !== undefined && (
        <span className="relative ml-auto text-muted">{count.toLocaleString('en')}</span>
      )}
    </label>
  );
}

function sorted({ facet, order }: Shown, values: readonly FacetValue[]): FacetValue[] {
  const list = [...values];
  if (order === 'number') return list.sort((a, b) => Number(a.value) - Number(b.value));
  if (order) return list.sort((a, b) => order.indexOf(a.value) - order.indexOf(b.value));
  return list.sort((a, b) => b.count - a.count || (facet === 'keys' ? 0 : a.value.localeCompare(b.value)));
}

function label(facet: FacetName, value: string): ReactNode {
  if (facet === 'roles') return <RoleMark role={value as Role} />;
  if (facet === 'tempos') return `${value} to ${Number(value) + 9}`;
  if (facet === 'ratings') return ratingWords(Number(value));
  if (facet === 'keys') {
    const key = keyOfWord(value);
    return key ? keyName(key) : value;
  }
  return value;
}
