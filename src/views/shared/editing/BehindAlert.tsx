import { Button } from '../../../ui/Button.tsx';

/** Somebody else changed the same: one of both is chosen before anything is saved. */
export function BehindAlert({
  what,
  onTheirs,
  onMine,
}: {
  /** What they did, after "Somebody else has". */
  what: string;
  onTheirs: () => void;
  onMine: () => void;
}) {
  return (
    <div role="alert" className="flex items-center gap-3 border-l-3 border-l-madder bg-card p-2 text-sm">
      Somebody else has {what}. Yours is shown, and not saved.
      <Button small onClick={onTheirs}>
        Take theirs
      </Button>
      <Button small onClick={onMine}>
        Go on with mine
      </Button>
    </div>
  );
}
