import type { WeavePart } from '../../../core/weave/weave.ts';
import type { PhraseListItem } from '../../../server/library/phrases/search.ts';
import { RoleMark } from '../../../ui/drawing/RoleMark.tsx';
import { DragRow } from '../DragOnSheet.tsx';

/** Phrases of a role that could stand in a place, those that suit the project first: chosen, or dragged onto a cell. */
export function CandidateList({
  title,
  role,
  chosen,
  candidates,
  onPhrase,
}: {
  title: string;
  role: WeavePart['role'];
  chosen: string | undefined;
  candidates: readonly PhraseListItem[];
  onPhrase: (id: string) => void;
}) {
  return (
    <div>
      <h3 className="label mb-1">{title}</h3>
      {candidates.length === 0 && <p className="text-sm text-muted">No {role} phrases are kept yet.</p>}
      <ul aria-label={title} className="max-h-60 overflow-auto">
        {candidates.map(({ id, name, bars, role: own }) => (
          <li key={id} className="border-t border-thread">
            <DragRow dragged={{ phrase: id, name, isSheaf: false }}>
              <button
                type="button"
                aria-pressed={chosen === id}
                className={`flex w-full items-center gap-2 px-1.5 py-1 text-left text-sm ${chosen === id ? 'bg-select' : 'hover:bg-sunk'}`}
                onClick={() => onPhrase(id)}
              >
                <RoleMark role={own} bare />
                <span className="min-w-0 flex-1 truncate">{name}</span>
                <span className="text-xs text-muted tabular-nums">{bars}</span>
              </button>
            </DragRow>
          </li>
        ))}
      </ul>
    </div>
  );
}
