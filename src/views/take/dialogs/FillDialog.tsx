import { useState } from 'react';
import { barsOfBlock, roundsThatFill, type LastRound } from '../../../core/capture/blocks.ts';
import type { Take } from '../../../core/capture/take.ts';
import { plural } from '../../../core/words.ts';
import { Button } from '../../../ui/Button.tsx';
import { Dialog } from '../../../ui/Dialog.tsx';
import { NumberField } from '../../../ui/NumberField.tsx';
import { ChoiceField } from '../../../ui/SelectField.tsx';
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
  const [bars, setBars] = useState(asked && asked > own ? asked : 4 * own);
  const fill = useFill(takeId);
  const [lastRound, setLastRound] = useState<LastRound>('cut');
  const rounds = roundsThatFill({ name: '', take }, bars);
  const last = rounds.at(-1)!.bars;
  return (
    <Dialog
      open
      onOpenChange={(next) => !next && onClose()}
      title="Repeat to fill bars"
      description="The take is repeated from bar one. What comes of it is a take of its own; this one is set aside, not deleted."
    >
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          fill.mutate({ bars, last: lastRound }, { onSuccess: onClose });
        }}
      >
        <NumberField label="Bars" min={1} max={512} value={bars} onChange={setBars} />
        <p role="status">
          {plural(own, 'bar')}, {plural(rounds.length, 'round')}
          {last < own ? `, the last one of ${plural(last, 'bar')}` : ''}.
        </p>
        {last < own && (
          <ChoiceField
            label="The last round plays"
            words={{
              cut: last === 1 ? 'its first bar' : `bars 1 to ${last}`,
              ending:
                last === 1
                  ? `bar ${own}, its turn or fill`
                  : `bars ${own - last + 1} to ${own}, its turn or fill`,
            }}
            value={lastRound}
            onChange={setLastRound}
          />
        )}
        <Button kind="primary" type="submit" disabled={fill.isPending}>
          Fill {plural(bars, 'bar')}
        </Button>
      </form>
    </Dialog>
  );
}
