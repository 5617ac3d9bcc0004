import { useMutation } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { useRecorder } from '../../devices/recorder-state.ts';
import { Button } from '../../ui/Button.tsx';
import { clockTime } from '../../ui/time.ts';
import { tellProblem, useUnfinished } from '../api/queries.ts';
import { finishCapture } from '../shared/captures.ts';

/** Recordings whose page went away: what was kept of them is offered as a take. */
export function Unfinished() {
  // Nothing else is looked for while this page records.
  const { data: captures = [] } = useUnfinished(useRecorder(({ phase }) => phase === 'idle'));
  const navigate = useNavigate();
  const finish = useMutation({
    mutationFn: (id: string) => finishCapture(id),
    onError: tellProblem,
    onSuccess: ({ takeId }) => takeId && void navigate(`/split/${takeId}`),
  });
  const waiting = captures.filter(({ alive }) => !alive);
  if (waiting.length === 0) return null;
  return (
    <section aria-label="Unfinished recordings" className="rounded-[3px] border border-madder bg-card p-3">
      <h2 className="mb-1">
        {waiting.length === 1
          ? 'A recording was not finished'
          : `${waiting.length} recordings were not finished`}
      </h2>
      {waiting.map(({ id, plan, notes, seconds, createdAt }) => (
        <div key={id} className="flex items-center gap-3 py-1">
          <b className="min-w-0 truncate">{plan.name}</b>
          <span className="text-sm text-muted">
            {new Date(createdAt).toLocaleString('en')}, {notes.toLocaleString('en')} notes in{' '}
            {clockTime(seconds)}
          </span>
          <Button small className="ml-auto" disabled={finish.isPending} onClick={() => finish.mutate(id)}>
            {notes > 0 ? 'Make a take of it' : 'Nothing was played: let it go'}
          </Button>
        </div>
      ))}
    </section>
  );
}
