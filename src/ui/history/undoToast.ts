import { toast } from 'sonner';
import { didDeed, takeBack } from './deeds.ts';

/** How long a change can be taken back from where it was told, in milliseconds. */
const PATIENCE = 12_000;

/**
 * Tells what was done, with a button that names what it takes back; it stands in the window's history like everything that
 * was done. `what` is in words such as "keeping the loop".
 */
export function toastWithUndo(
  done: string,
  what: string,
  undo: () => unknown,
  { description, redo }: { description?: string | undefined; redo?: () => unknown } = {},
): void {
  const deed = didDeed({ what, source: `told ${done}`, undo, redo });
  toast(done, {
    description,
    descriptionClassName: 'whitespace-pre-line',
    duration: PATIENCE,
    action: { label: `Take back ${what}`, onClick: () => void takeBack(deed) },
  });
}
