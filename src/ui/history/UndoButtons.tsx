import { Redo2, Undo2 } from 'lucide-react';
import { Button } from '../Button.tsx';
import type { UndoHistory } from './deeds.ts';

/** Take back and do again, each saying what. */
export function UndoButtons({ history: { undoes, redoes, undo, redo } }: { history: UndoHistory }) {
  return (
    <div className="flex min-w-0 gap-1.5">
      <Button
        small
        className="min-w-0"
        disabled={!undoes}
        onClick={undo}
        title={undoes && `Take back: ${undoes} (Ctrl Z)`}
      >
        <Undo2 size={13} className="flex-none" aria-hidden="true" />{' '}
        <span className="flex-none">Take back</span>
        {undoes && <span className="min-w-0 truncate text-muted">{undoes}</span>}
      </Button>
      <Button small disabled={!redoes} onClick={redo} title={redoes && `Do again: ${redoes} (Ctrl Y)`}>
        <Redo2 size={13} aria-hidden="true" /> Again
      </Button>
    </div>
  );
}
