import { toast } from 'sonner';

/** How long a change can be taken back from where it was told, in milliseconds. */
const PATIENCE = 12_000;

/** Tells what was done, with a button that names what it takes back. */
export function toastWithUndo(done: string, what: string, undo: () => void, description?: string): void {
  toast(done, {
    description,
    descriptionClassName: 'whitespace-pre-line',
    duration: PATIENCE,
    action: { label: `Take back ${what}`, onClick: undo },
  });
}
