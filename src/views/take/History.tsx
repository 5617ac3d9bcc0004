import type { SplitEditing } from './editing.ts';

/** All that was done to the take, oldest first; a click goes back to there, or forward. */
export function History({ editing: { history, done, goTo } }: { editing: SplitEditing }) {
  if (history.length === 0) return null;
  const line = (text: string, at: number) => (
    <li key={at}>
      <button
        type="button"
        aria-current={at === done}
        className={`block w-full truncate border-l-3 px-2 text-left hover:bg-sunk ${at === done ? 'border-l-madder bg-card font-bold' : at > done ? 'border-l-transparent text-muted' : 'border-l-transparent'}`}
        title={at > done ? 'taken back; go there again' : 'go back to here'}
        onClick={() => goTo(at)}
      >
        {at > 0 && <span className="text-muted">{at}.</span>} {text}
      </button>
    </li>
  );
  return (
    <section aria-label="History">
      <h2 className="mb-1">History</h2>
      <ol className="max-h-44 overflow-y-auto text-sm">
        {line('as it was captured', 0)}
        {history.map((text, i) => line(text, i + 1))}
      </ol>
    </section>
  );
}
