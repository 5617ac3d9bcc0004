import { Minus, Plus } from 'lucide-react';
import { Button } from '../Button.tsx';

/** Closer, farther, all of it. A factor below 1 is closer. */
export function ZoomButtons({
  whole,
  onZoom,
  onWhole,
}: {
  /** What "all of it" is, such as "the whole take". */
  whole: string;
  onZoom: (factor: number) => void;
  onWhole: () => void;
}) {
  return (
    <div className="flex items-center gap-1">
      <Button small aria-label="Closer" title="Closer (+)" onClick={() => onZoom(CLOSER)}>
        <Plus size={13} />
      </Button>
      <Button small aria-label="Farther" title="Farther (-)" onClick={() => onZoom(1 / CLOSER)}>
        <Minus size={13} />
      </Button>
      <Button small onClick={onWhole} title={`Show ${whole} (0)`}>
        whole
      </Button>
    </div>
  );
}

/** One step closer. */
export const CLOSER = 0.7;
