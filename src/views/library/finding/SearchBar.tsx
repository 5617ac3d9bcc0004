import { Bookmark, X } from 'lucide-react';
import { useState, type Ref } from 'react';
import { Link } from 'react-router';
import { PHRASE_SORTS, type PhraseSort } from '../../../core/catalog/find.ts';
import { plural } from '../../../core/words.ts';
import { Button } from '../../../ui/Button.tsx';
import { useStages } from '../../api/queries.ts';
import { SearchField } from '../../../ui/fields/SearchField.tsx';
import type { Filter } from '../../shared/phrases/filter.ts';
import { KeptSearches } from './KeptSearches.tsx';

const SORT_WORDS: Record<PhraseSort, string> = {
  name: 'by name',
  fit: 'by fit',
  newest: 'newest first',
  tempo: 'nearest tempo',
  'most used': 'most used',
  'least used': 'least used',
  rating: 'by rating',
};

/** What is looked for, in words and in marks that were understood; in which order; and the searches that are kept. */
export function SearchBar({
  filter,
  search,
  total,
  hasProject,
  onBatch,
}: {
  filter: Filter;
  search: Ref<HTMLInputElement>;
  total: number | undefined;
  /** Whether there is a project that phrases can suit. */
  hasProject: boolean;
  onBatch: () => void;
}) {
  const [isKept, setKept] = useState(false);
  const unmarked = useStages().data?.unmarked ?? 0;
  const marks = [
    ...filter.marks.map(({ title, words, without }) => ({
      title,
      hint: `"${words}" was understood; in quotes it is a word. Take it away`,
      remove: () => filter.setText(without),
    })),
    ...filter.numerals.map(({ param, words }) => ({
      title: words,
      hint: 'Take this away',
      remove: () => filter.remove(param),
    })),
  ];
  return (
    <div className="mb-2 grid gap-1.5">
      <div className="flex items-center gap-2">
        <SearchField
          ref={search}
          label="Search"
          placeholder='Words, or "Em", "90-110", "3/4", "8 bars", "swing", "I vi IV V"   ( / )'
          value={filter.text}
          onChange={filter.setText}
        />
        <select
          aria-label="Order"
          className="field h-9 w-32"
          value={filter.sort}
          onChange={({ target }) => filter.setSort(target.value as PhraseSort)}
        >
          {PHRASE_SORTS.map((sort) => (
            <option key={sort} value={sort} disabled={sort === 'fit' && !hasProject}>
              {SORT_WORDS[sort]}
            </option>
          ))}
        </select>
        <Button title="Searches that are kept, and this one under a name" onClick={() => setKept(true)}>
          <Bookmark size={13} aria-hidden="true" /> Searches
        </Button>
      </div>
      <div className="flex min-h-6 flex-wrap items-center gap-x-3 gap-y-1 text-sm">
        <span className="w-24 text-muted" role="status">
          {total !== undefined && `${total.toLocaleString('en')} ${total === 1 ? 'phrase' : 'phrases'}`}
        </span>
        {unmarked > 0 && (
          <span
            className="text-muted"
            role="status"
            title="Feel, density, fit and what is alike are known once they are"
          >
            {plural(unmarked, 'phrase')} still to be read anew
          </span>
        )}
        {marks.map(({ title, hint, remove }) => (
          <Button key={title} small title={hint} onClick={remove}>
            {title} <X size={11} aria-hidden="true" />
          </Button>
        ))}
        {!filter.isEmpty && (
          <Button small onClick={filter.clear}>
            Show all
          </Button>
        )}
        <span className="ml-auto flex items-center gap-3">
          <Button
            small
            kind="quiet"
            title="A recipe for all phrases that are found (N)"
            disabled={!total}
            onClick={onBatch}
          >
            Recipe for all ...
          </Button>
          <PageLink
            to="/library/harmony"
            title="What progressions begin and end on, and which keys are covered (H)"
          >
            Harmony
          </PageLink>
          <PageLink
            to="/library/twice"
            title="What is in the library twice: the same notes, moved, at another tempo, varied (D)"
          >
            Twice
          </PageLink>
        </span>
      </div>
      {isKept && <KeptSearches filter={filter} onClose={() => setKept(false)} />}
    </div>
  );
}

function PageLink({ to, title, children }: { to: string; title: string; children: string }) {
  return (
    <Link
      to={to}
      title={title}
      className="inline-flex min-h-6 items-center whitespace-nowrap underline decoration-rule underline-offset-3 hover:decoration-ink"
    >
      {children}
    </Link>
  );
}
