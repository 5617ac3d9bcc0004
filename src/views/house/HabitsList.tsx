import { useMutation } from '@tanstack/react-query';
import { plural } from '../../core/words.ts';
import { Button } from '../../ui/Button.tsx';
import { toastWithUndo } from '../../ui/history/undoToast.ts';
import { sendJson } from '../api/client.ts';
import { renew, tellProblem, useHabits } from '../api/queries.ts';

/** What the takes of each source usually need, as far as it was seen; what is forgotten is not offered again. */
export function HabitsList() {
  const { data: sources, error } = useHabits();
  const forget = useMutation({
    mutationFn: (request: { sourceId: string; habit: string; forgotten: boolean }) =>
      sendJson('POST', '/api/habits', request),
    onError: tellProblem,
    onSettled: () => renew('habits', 'take-habits'),
  });
  const onForget = (sourceId: string, habit: string, words: string) => {
    forget.mutate({ sourceId, habit, forgotten: true });
    toastWithUndo(`Forgotten: ${words}`, 'forgetting', () =>
      forget.mutate({ sourceId, habit, forgotten: false }),
    );
  };
  return (
    <section aria-label="Habits of sources" className="grid gap-2">
      <h2 className="text-lg">Habits of sources</h2>
      {error && <p className="text-sm text-madder">{error.message}</p>}
      {sources?.length === 0 && (
        <p className="text-sm text-muted">
          None yet. What you put right on a source&apos;s takes is learned here, and offered on its next take.
        </p>
      )}
      {sources?.map(({ sourceId, source, habits }) => (
        <div key={sourceId}>
          <h3 className="text-base">{source}</h3>
          <ul>
            {habits.map(({ id, words, seen, of, forgotten }) => (
              <li key={id} className="quiet-row flex items-center gap-2 py-0.5 text-sm">
                <span
                  className={`min-w-0 flex-1 truncate ${forgotten ? 'text-muted line-through' : ''}`}
                  title={words}
                >
                  {words}
                </span>
                <span className="whitespace-nowrap text-muted">
                  {seen} of {plural(of, 'take')}
                </span>
                {forgotten ? (
                  <Button
                    small
                    aria-label={`Remember: ${words}`}
                    onClick={() => forget.mutate({ sourceId, habit: id, forgotten: false })}
                  >
                    Remember
                  </Button>
                ) : (
                  <Button
                    small
                    kind="quiet"
                    aria-label={`Forget: ${words}`}
                    onClick={() => onForget(sourceId, id, words)}
                  >
                    Forget
                  </Button>
                )}
              </li>
            ))}
          </ul>
        </div>
      ))}
    </section>
  );
}
