import { Button } from '../../../ui/Button.tsx';
import type { TakeRowWire } from '../../api/queries.ts';
import { useKeep } from './keep.ts';

/** On the row of a take of one clean part: nothing needs to be opened. */
export function KeepButton({ take }: { take: TakeRowWire }) {
  const keep = useKeep();
  return (
    <Button
      small
      disabled={keep.isPending}
      aria-label={`Keep ${take.name}`}
      title="One clean part: make its phrase at the house standard, and keep it"
      onClick={(event) => {
        event.stopPropagation();
        keep.mutate(take);
      }}
    >
      Keep
    </Button>
  );
}
