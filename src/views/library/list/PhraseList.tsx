import type { PhraseListItem } from '../../../server/library/phrases/search.ts';
import { useVirtualRows } from '../../../ui/table/virtual-rows.ts';
import { PhraseRow, ROW, RowHeadings, type RowState } from './PhraseRow.tsx';

/** The list: only the rows in sight are drawn, however many there are. */
export function PhraseList({
  phrases,
  total,
  selected,
  stateOf,
  onEnd,
  ...doing
}: {
  phrases: readonly PhraseListItem[];
  total: number;
  selected: string | undefined;
  stateOf: (id: string) => RowState;
  onSelect: (id: string) => void;
  onChoose: (id: string, others: boolean) => void;
  onListen: (id: string) => void;
  onOpen: (id: string) => void;
  /** The end of what is loaded comes into sight. */
  onEnd: () => void;
}) {
  const { scroller, items, height } = useVirtualRows(phrases, {
    height: ROW,
    overscan: 12,
    current: selected,
    onEnd,
    place: 'phrases',
  });
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <RowHeadings />
      <div
        ref={scroller}
        className="min-h-0 flex-1 overflow-auto"
        role="listbox"
        aria-label="Found phrases"
        aria-activedescendant={selected && `phrase-${selected}`}
        tabIndex={0}
      >
        <div style={{ height }} className="relative">
          {items.map(({ index, start }) => {
            const phrase = phrases[index]!;
            return (
              <PhraseRow
                key={phrase.id}
                phrase={phrase}
                state={stateOf(phrase.id)}
                at={index + 1}
                total={total}
                top={start}
                {...doing}
              />
            );
          })}
        </div>
      </div>
    </div>
  );
}
