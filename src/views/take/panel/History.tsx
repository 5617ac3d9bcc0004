import { plural } from '../../../core/words.ts';
import { Button } from '../../../ui/Button.tsx';
import type { SplitEditing } from '../../shared/takes/editing.ts';

/** All that was done to the take, oldest first; a click goes back to there, or forward. What was dropped can be brought back. */
export function History({ editing: { history, done, dropped, goTo, restore } }: { editing: SplitEditing }) {
  if (history.length + dropped.length === 0) return null;
  const line = (text: string, at: number) => (
    <li key={at}>
      <button
        type="button"
        aria-current={at === done}
        className={`block min-h-6 w-full truncate border-l-3 px-2 text-left hover:bg-sunk ${at === done ? 'border-l-madder bg-card font-bold' : at > done ? 'border-l-transparent text-muted' : 'border-l-transparent'}`}
        title={at > done ? `taken back; go there again: ${text}` : `go back to here: ${text}`}
        onClick={() => goTo(at)}
      >
        {at > 0 && <span className="text-muted">{at}.</span>} {text}
      </button>
    </li>
  );
  return (
    <>
      <section aria-label="History">
        <h2 className="mb-1">History</h2>
        <ol className="text-sm">
          {line('as it was captured', 0)}
          {history.map((text, i) => line(text, i + 1))}
        </ol>
      </section>
      {dropped.length > 0 && (
        <ul className="-mt-2 text-sm" aria-label="Dropped histories">
          {dropped.map(({ moves, at }, number) => (
            <li key={`${at} ${moves.length}`} className="flex items-center gap-2 py-0.5 text-muted">
              <span className="min-w-0 flex-1">
                {plural(moves.length - at, 'move')} after step {at}, left for another way
              </span>
              <Button small onClick={() => restore(number)}>
                Go there again
              </Button>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
