import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { PhraseListItem } from '../../../server/library/phrases/search.ts';
import { Button } from '../../../ui/Button.tsx';
import { RoleMark } from '../../../ui/drawing/RoleMark.tsx';
import { SearchField } from '../../../ui/fields/SearchField.tsx';
import { request } from '../../api/client.ts';
import { DragRow } from '../DragOnSheet.tsx';

/** So many of the library are listed: who looks for others types a word. */
const MOST = 60;

/** Phrases of the library, to be put or dragged onto the sheet, alone or with their whole sheaf. */
export function LibraryBox({
  projectId,
  into,
  onPut,
}: {
  projectId: string | null;
  /** Name of the section that they are put into; null where none is chosen. */
  into: string | null;
  onPut: (phrase: PhraseListItem, isSheaf: boolean) => void;
}) {
  const [text, setText] = useState('');
  const { data = [], isPending } = useQuery({
    queryKey: ['phrases', 'for a weave', text, projectId],
    placeholderData: keepPreviousData,
    queryFn: async () => {
      const suits = projectId ? `&sort=fit&suits=${projectId}` : '&sort=name';
      const address = `/api/phrases?text=${encodeURIComponent(text)}${suits}`;
      return (await request<{ phrases: PhraseListItem[] }>(address)).phrases.slice(0, MOST);
    },
  });
  return (
    <section aria-label="From the library" className="grid gap-2">
      <SearchField
        label="Find phrases for the sheet"
        placeholder="bass, 90-100 bpm"
        value={text}
        onChange={setText}
      />
      <p className="text-sm text-muted">
        {into === null
          ? 'Drag one onto the sheet, or choose a section first.'
          : `Drag one onto the sheet, or choose it: it falls into "${into}".`}
      </p>
      {!isPending && data.length === 0 && (
        <p className="text-sm text-muted">Nothing in the library is like that.</p>
      )}
      <ul>
        {data.map((phrase) => (
          <li key={phrase.id} className="flex items-center gap-1 border-t border-thread">
            <div className="min-w-0 flex-1">
              <DragRow dragged={{ phrase: phrase.id, name: phrase.name, isSheaf: false }}>
                <button
                  type="button"
                  disabled={into === null}
                  className="flex min-h-7 w-full items-center gap-2 px-1 text-left text-sm hover:bg-sunk"
                  onClick={() => onPut(phrase, false)}
                >
                  <RoleMark role={phrase.role} bare />
                  <span className="min-w-0 flex-1 truncate" title={phrase.name}>
                    {phrase.name}
                  </span>
                  <span className="text-xs text-muted tabular-nums">{phrase.bars}</span>
                </button>
              </DragRow>
            </div>
            <div className="w-14 flex-none text-right">
              {phrase.sheafId && (
                <DragRow dragged={{ phrase: phrase.id, name: `${phrase.name} and its sheaf`, isSheaf: true }}>
                  <Button
                    small
                    disabled={into === null}
                    title="The whole sheaf, a part each"
                    onClick={() => onPut(phrase, true)}
                  >
                    Sheaf<span className="sr-only"> of {phrase.name}</span>
                  </Button>
                </DragRow>
              )}
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}
