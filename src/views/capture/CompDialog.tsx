import { useNavigate } from 'react-router';
import { LONGEST_CHART } from '../../core/comp/document.ts';
import { MOST_PASSES } from '../../core/comp/passes.ts';
import { plural } from '../../core/words.ts';
import { newCompSchema } from '../../requests/comp.ts';
import { Dialog } from '../../ui/Dialog.tsx';
import { CheckedForm, FormProblem, SubmitButton, useCheckedForm } from '../../ui/form/checked-form.tsx';
import { FormText } from '../../ui/form/form-fields.tsx';
import { sendJson } from '../api/client.ts';
import { useCurrentProject } from '../shared/project.ts';
import { renew, type TakeRowWire } from '../api/queries.ts';

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
  return (
    <Dialog
      open={open}
      onOpenChange={(next) => !next && onClose()}
      title={`Comp across ${plural(takes.length, 'take')}`}
      description="For passes over one chart: their bars side by side, and the best of them as one take. The takes stay as they are."
    >
      {open && <CompForm takes={takes} />}
    </Dialog>
  );
}

function CompForm({ takes }: { takes: readonly TakeRowWire[] }) {
  const navigate = useNavigate();
  const project = useCurrentProject();
  // What one of them was asked to play, all of them were.
  const asked = takes.flatMap((take) => take.asked.chart ?? [])[0];
  const form = useCheckedForm(newCompSchema, {
    title: `${takes[0]?.name ?? 'Takes'}, the best bars`,
    chart: asked ?? project?.chords ?? '',
    takes: takes.map(({ id }) => id),
  });
  return (
    <CheckedForm
      form={form}
      onSubmit={async (said) => {
        const { id } = await sendJson<{ id: string }>('POST', '/api/comps', said);
        await renew('comps');
        void navigate(`/split/comp/${id}`);
      }}
    >
      <FormText name="title" label="Title" maxLength={200} />
      <FormText
        name="chart"
        label="Chart that all of them play"
        maxLength={LONGEST_CHART}
        placeholder="Dm | Bb | Gm A7 | Dm"
      />
      {takes.length > MOST_PASSES && (
        <p className="text-sm text-madder" role="alert">
          A comp has {MOST_PASSES} takes at the most.
        </p>
      )}
      <FormProblem />
      <SubmitButton disabled={form.watch('chart').trim() === ''}>Lay them side by side</SubmitButton>
    </CheckedForm>
  );
}
