import { barsOfBlock, roundsThatFill } from '../../../core/capture/blocks.ts';
import type { Take } from '../../../core/capture/take.ts';
import { plural } from '../../../core/words.ts';
import { fillSchema } from '../../../requests/takes.ts';
import { Dialog } from '../../../ui/Dialog.tsx';
import { CheckedForm, SubmitButton, useCheckedForm } from '../../../ui/form/checked-form.tsx';
import { FormChoice, FormNumber } from '../../../ui/form/form-fields.tsx';
import { useFill } from '../../shared/takes/fill.ts';

/** Repeats a short take until a number of bars is filled; what the last round comes to shows before it is done. */
export function FillDialog({
  takeId,
  take,
  asked,
  onClose,
}: {
  takeId: string;
  take: Take;
  /** Bars that were asked for; null where nobody said. */
  asked: number | null;
  onClose: () => void;
}) {
  const own = barsOfBlock(take);
  const form = useCheckedForm(fillSchema, { bars: asked && asked > own ? asked : 4 * own, last: 'cut' });
  const fill = useFill(takeId);
  const bars = form.watch('bars');
  const rounds = roundsThatFill({ name: '', take }, bars);
  const last = rounds.at(-1)!.bars;
  return (
    <Dialog
      open
      onOpenChange={(next) => !next && onClose()}
      title="Repeat to fill bars"
      description="The take is repeated from bar one. What comes of it is a take of its own; this one is set aside, not deleted."
    >
      <CheckedForm form={form} onSubmit={(said) => fill.mutateAsync(said).then(onClose)}>
        <FormNumber name="bars" label="Bars" min={1} max={512} />
        <p role="status">
          {plural(own, 'bar')}, {plural(rounds.length, 'round')}
          {last < own ? `, the last one of ${plural(last, 'bar')}` : ''}.
        </p>
        {last < own && (
          <FormChoice
            name="last"
            label="The last round plays"
            words={{
              cut: last === 1 ? 'its first bar' : `bars 1 to ${last}`,
              ending:
                last === 1
                  ? `bar ${own}, its turn or fill`
                  : `bars ${own - last + 1} to ${own}, its turn or fill`,
            }}
          />
        )}
        <SubmitButton>Fill {plural(bars, 'bar')}</SubmitButton>
      </CheckedForm>
    </Dialog>
  );
}
