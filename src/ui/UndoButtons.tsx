import { Redo2, Undo2 } from 'lucide-react';
import { Button } from './Button.tsx';

/** Take back and do again, each saying what. */
export function UndoButtons({
  undoes,
  redoes,
  onUndo,
  onRedo,
}: {
  undoes: string | undefined;
  redoes: string | undefined;
  onUndo: () => void;
  onRedo: () => void;
}) {
  return (
    <div className="flex min-w-0 gap-1.5">
      <Button small disabled={!undoes} onClick={onUndo} title={undoes && `Take back: ${undoes} (Ctrl Z)`}>
        <Undo2 size={13} aria-hidden="true" /> Take back
        {undoes && <span className="max-w-36 truncate text-muted">{undoes}</span>}
      </Button>
      <Button small disabled={!redoes} onClick={onRedo} title={redoes && `Do again: ${redoes} (Ctrl Y)`}>
        <Redo2 size={13} aria-hidden="true" /> Again
      </Button>
    </div>
  );
}
