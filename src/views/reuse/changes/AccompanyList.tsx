import { useQuery } from '@tanstack/react-query';
import type { AccompanimentItem } from '../../../server/library/phrases/accompany.ts';
import { RoleMark } from '../../../ui/drawing/RoleMark.tsx';
import { request } from '../../api/client.ts';

/** What may accompany a tune, the best first. */
export function useAccompaniments(id: string) {
  return useQuery({
    queryKey: ['phrases', 'accompaniments', id],
    queryFn: () => request<AccompanimentItem[]>(`/api/phrases/${id}/accompaniments`),
  });
}

/** What goes under the tune, each with how well it does and why: chosen by click, or gone through by the arrows. */
export function AccompanyList({
  items,
  isPending,
  chosen,
  onChoose,
}: {
  items: readonly AccompanimentItem[];
  isPending: boolean;
  chosen: readonly string[];
  onChoose: (ids: string[]) => void;
}) {
  const isChosen = ({ phrases }: AccompanimentItem) => phrases[0]!.id === chosen[0];
  return (
    <section aria-label="Accompaniment" className="grid content-start gap-1">
      <div className="flex items-baseline">
        <h2 className="text-base">Accompaniment</h2>
        {chosen.length > 0 && (
          <button
            type="button"
            className="ml-auto text-sm underline decoration-rule underline-offset-3"
            onClick={() => onChoose([])}
          >
            none
          </button>
        )}
      </div>
      {!isPending && items.length === 0 && (
        <p className="text-sm text-muted">No keys, guitar or pad is kept yet that could go under it.</p>
      )}
      <ul>
        {items.map((item) => {
          const [first] = item.phrases;
          return (
            <li key={first!.id} className="border-t border-thread">
              <button
                type="button"
                aria-pressed={isChosen(item)}
                className={`grid w-full grid-cols-[1fr_auto] gap-x-2 px-1.5 py-1 text-left text-sm ${isChosen(item) ? 'bg-select' : 'hover:bg-sunk'}`}
                title={item.reasons.map(({ text }) => text).join('\n')}
                onClick={() => onChoose(isChosen(item) ? [] : item.phrases.map(({ id }) => id))}
              >
                <span className="truncate">
                  {item.phrases.length > 1 ? `${first!.takeName}, together` : first!.name}
                </span>
                <span className="tabular-nums" title="How well it goes under the tune, of 100">
                  {item.score}
                </span>
                <span className="col-span-2 flex items-center gap-2 truncate text-xs text-muted">
                  {item.phrases.map(({ id, role }) => (
                    <RoleMark key={id} role={role} />
                  ))}
                  <span className="truncate">{item.reasons[0]!.text}</span>
                </span>
              </button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
