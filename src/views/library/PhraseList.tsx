import type { PhraseListItem } from '../../server/library/search.ts';
import { Pin } from 'lucide-react';
import { Swatch } from '../../ui/Swatch.tsx';
import { useVirtualRows } from '../../ui/virtual-rows.ts';
import { ratingWords } from '../shared/phrases/rating.ts';
import { FitFigure } from './FitReasons.tsx';
import { PhraseCells, PhraseHeadings } from '../shared/phrases/PhraseCells.tsx';

const ROW = 31;

const COLUMNS =
  'grid grid-cols-[minmax(110px,1fr)_minmax(130px,1.4fr)_92px_44px_46px_36px_40px_52px_minmax(60px,0.7fr)] items-center gap-x-3 middling:grid-cols-[88px_minmax(100px,1.3fr)_82px_36px_42px_30px_34px_28px_minmax(36px,0.6fr)] middling:gap-x-2';

/** The list: only the rows in sight are drawn, however many there are. */
export function PhraseList({
  phrases,
  total,
  selected,
  chosen,
  sounding,
  waiting,
  pinned,
  onSelect,
  onChoose,
  onListen,
  onOpen,
  onEnd,
}: {
  phrases: readonly PhraseListItem[];
  total: number;
  selected: string | undefined;
  chosen: ReadonlySet<string>;
  sounding: string | undefined;
  /** Begins at the next line. */
  waiting: string | undefined;
  /** Go on playing while others are tried. */
  pinned: readonly string[];
  onSelect: (id: string) => void;
  /** With the others from the selected one to it, or alone. */
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
      <div className={`${COLUMNS} border-b border-rule px-2 pb-1 text-sm text-muted`}>
        <span>Swatch</span>
        <span>Phrase</span>
        <PhraseHeadings />
        <span className="text-right">Fit</span>
        <span>Tags</span>
      </div>
      <div
        ref={scroller}
        className="min-h-0 flex-1 overflow-auto"
        role="listbox"
        aria-label="Found phrases"
        aria-activedescendant={selected && `phrase-${selected}`}
        tabIndex={0}
      >
        <div style={{ height }} className="relative">
          {items.map((item) => {
            const phrase = phrases[item.index]!;
            const isSelected = phrase.id === selected;
            const isChosen = chosen.has(phrase.id);
            return (
              <div
                key={phrase.id}
                id={`phrase-${phrase.id}`}
                role="option"
                aria-setsize={total}
                aria-posinset={item.index + 1}
                aria-selected={isSelected || isChosen}
                data-sounding={sounding === phrase.id}
                className={`${COLUMNS} absolute inset-x-0 cursor-pointer border-b border-l-3 border-b-thread pr-2 pl-1.5 ${
                  isSelected ? 'border-l-madder' : 'border-l-transparent'
                } ${isChosen ? 'bg-select' : isSelected ? 'bg-card' : 'hover:bg-card'}`}
                style={{ height: ROW, transform: `translateY(${item.start}px)` }}
                onClick={({ shiftKey, ctrlKey, metaKey }) =>
                  shiftKey || ctrlKey || metaKey ? onChoose(phrase.id, shiftKey) : onSelect(phrase.id)
                }
                title={phrase.name}
                onDoubleClick={() => onOpen(phrase.id)}
              >
                <span
                  className="flex overflow-hidden"
                  title="Listen (Space)"
                  onClick={() => onListen(phrase.id)}
                >
                  <Swatch
                    notes={phrase.swatch}
                    role={phrase.role}
                    bars={phrase.bars}
                    width={132}
                    height={ROW - 7}
                  />
                </span>
                <span className={`truncate font-bold ${sounding === phrase.id ? 'text-madder' : ''}`}>
                  {pinned.includes(phrase.id) && (
                    <Pin size={11} className="mr-1 inline text-madder" aria-label="pinned" />
                  )}
                  {phrase.name}
                  {waiting === phrase.id && <span className="font-normal text-muted"> waits</span>}
                </span>
                <PhraseCells phrase={phrase} />
                <FitFigure fit={phrase.fit} />
                <span className="truncate text-sm text-muted" title={phrase.tags.join(', ')}>
                  {phrase.rating !== null && (
                    <span className="text-weld" title="Rating">
                      {ratingWords(phrase.rating)}{' '}
                    </span>
                  )}
                  {phrase.tags.join(', ')}
                </span>
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}
