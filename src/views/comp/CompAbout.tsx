import { useState } from 'react';
import { chartProblem, LONGEST_CHART, type Comp } from '../../core/comp/document.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { Labeled } from '../../ui/Labeled.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { TextField } from '../../ui/TextField.tsx';

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
  const [title, setTitle] = useState(comp.title);
  const [chart, setChart] = useState(comp.chart);
  const [bpm, setBpm] = useState(comp.bpm);
  const problem = chartProblem(chart, beats);
  return (
    <Dialog
      open
      onOpenChange={(next) => !next && onClose()}
      title="Title, chart and tempo"
      description="Another chart lays the passes along it anew; what was taken stays with the numbers of its bars."
    >
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          onChange({ title: title.trim() || comp.title, chart, bpm });
          onClose();
        }}
      >
        <TextField label="Title" maxLength={200} value={title} onChange={setTitle} />
        <Labeled label="Chart">
          {
            (id) =>
            <textarea id={id} className="field w-full" rows={3} maxLength={LONGEST_CHART} value={chart} onChange={({ target }) => setChart(target.value)} /> // prettier-ignore
          }
        </Labeled>
        {problem && (
          <p className="text-sm text-madder" role="alert">
            {problem}
          </p>
        )}
        <NumberField
          label="Tempo of the result, BPM"
          min={20}
          max={400}
          empty="that of the first bar"
          value={bpm}
          onChange={setBpm}
        />
        <Button kind="primary" type="submit" disabled={problem !== null}>
          Change
        </Button>
      </form>
    </Dialog>
  );
}
