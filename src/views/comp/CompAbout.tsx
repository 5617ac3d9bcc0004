import { useMemo } from 'react';
import { LONGEST_CHART, type Comp } from '../../core/comp/document.ts';
import { compAboutSchema } from '../../requests/comp.ts';
import { Dialog } from '../../ui/Dialog.tsx';
import { CheckedForm, SubmitButton, useCheckedForm } from '../../ui/form/checked-form.tsx';
import { FormNumber, FormText } from '../../ui/form/form-fields.tsx';

/** Title, chart and tempo of a comp. Another chart lays the passes anew; what was taken stays with its bars. */
export function CompAbout({
  comp,
  beats,
  onClose,
  onChange,
}: {
  comp: Comp;
  /** Of a bar. */
  beats: number;
  onClose: () => void;
  onChange: (change: Pick<Comp, 'title' | 'chart' | 'bpm'>) => void;
}) {
  const form = useCheckedForm(
    useMemo(() => compAboutSchema(beats), [beats]),
    { title: comp.title, chart: comp.chart, bpm: comp.bpm },
  );
  return (
    <Dialog
      open
      onOpenChange={(next) => !next && onClose()}
      title="Title, chart and tempo"
      description="Another chart lays the passes along it anew; what was taken stays with the numbers of its bars."
    >
      <CheckedForm
        form={form}
        onSubmit={(said) => {
          onChange(said);
          onClose();
        }}
      >
        <FormText name="title" label="Title" maxLength={200} />
        <FormText name="chart" label="Chart" rows={3} maxLength={LONGEST_CHART} />
        <FormNumber
          name="bpm"
          label="Tempo of the result, BPM"
          min={20}
          max={400}
          empty="that of the first bar"
        />
        <SubmitButton>Change</SubmitButton>
      </CheckedForm>
    </Dialog>
  );
}
