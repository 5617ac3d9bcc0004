import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { LONGEST_CHART } from '../../core/comp/document.ts';
import { MOST_PASSES } from '../../core/comp/passes.ts';
import { plural } from '../../core/words.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { TextField } from '../../ui/TextField.tsx';
import { sendJson } from '../api/client.ts';
import { useCurrentProject } from '../shared/project.ts';
import { renew, tellProblem, type TakeRowWire } from '../api/queries.ts';

/** Begins a comp of the chosen takes: its title, and the chart that all of them play. */
export function CompDialog({
  open,
  takes,
  onClose,
}: {
  open: boolean;
  takes: readonly TakeRowWire[];
  onClose: () => void;
}) {
  const navigate = useNavigate();
  const [title, setTitle] = useState('');
  const [typed, setChart] = useState<string | null>(null);
  const project = useCurrentProject();
  // What one of them was asked to play, all of them were.
  const asked = takes.flatMap((take) => take.asked.chart ?? [])[0];
  const chart = typed ?? asked ?? project?.chords ?? '';
  const suggested = `${takes[0]?.name ?? 'Takes'}, the best bars`;
  const begin = useMutation({
    mutationFn: () =>
      sendJson<{ id: string }>('POST', '/api/comps', {
        ...{ title: title.trim() || suggested, chart, takes: takes.map(({ id }) => id) },
      }),
    onError: tellProblem,
    onSuccess: async ({ id }) => {
      await renew('comps');
      void navigate(`/split/comp/${id}`);
    },
  });
  return (
    <Dialog
      open={open}
      onOpenChange={(next) => !next && onClose()}
      title={`Comp across ${plural(takes.length, 'take')}`}
      description="For passes over one chart: their bars side by side, and the best of them as one take. The takes stay as they are."
    >
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          begin.mutate();
        }}
      >
        <TextField label="Title" maxLength={200} placeholder={suggested} value={title} onChange={setTitle} />
        <TextField
          label="Chart that all of them play"
          maxLength={LONGEST_CHART}
          placeholder="Dm | Bb | Gm A7 | Dm"
          value={chart}
          onChange={setChart}
        />
        {takes.length > MOST_PASSES && (
          <p className="text-sm text-madder" role="alert">
            A comp has {MOST_PASSES} takes at the most.
          </p>
        )}
        <Button
          kind="primary"
          type="submit"
          disabled={begin.isPending || chart.trim() === '' || takes.length > MOST_PASSES}
        >
          Lay them side by side
        </Button>
      </form>
    </Dialog>
  );
}
