import { toast } from 'sonner';
import { Button } from '../../ui/Button.tsx';
import { Labeled } from '../../ui/fields/Labeled.tsx';

/** A link that was made: it is shown this once. */
export function LinkMade({ link, forWhom }: { link: string; forWhom: string }) {
  const copy = () => {
    // On plain HTTP a page may not write what is copied; the field is chosen, for Ctrl C.
    if (!navigator.clipboard) return;
    navigator.clipboard.writeText(link).then(
      () => toast('Copied.'),
      () => toast('It could not be copied: choose the text and copy it yourself.'),
    );
  };
  return (
    <Labeled
      label={`Send this to ${forWhom || 'whom you let in'}. It works once, for seven days, and is not shown again.`}
    >
      {(id) => (
        <span className="flex gap-1">
          <input
            id={id}
            className="field min-w-0 flex-1 font-mono text-xs"
            readOnly
            value={link}
            onFocus={({ target }) => target.select()}
          />
          {'clipboard' in navigator && <Button onClick={copy}>Copy</Button>}
        </span>
      )}
    </Labeled>
  );
}
