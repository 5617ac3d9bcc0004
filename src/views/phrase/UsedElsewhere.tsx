import type { Place } from '../../server/library/phrases/places.ts';
import { plural } from '../../core/words.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { Checkbox } from '../../ui/fields/Checkbox.tsx';
import { useChoosing } from '../shared/choosing.ts';

/**
 * Asks, where a phrase that is used in several places is changed for the first time, whether all of them get the change, or some of them a
 * copy of their own.
 */
export function UsedElsewhere({
  name,
  places,
  onAll,
  onCopy,
  onClose,
}: {
  name: string;
  places: readonly Place[];
  onAll: () => void;
  onCopy: (places: Place[]) => void;
  onClose: () => void;
}) {
  const { chosen: ticked, choose } = useChoosing(places);
  const some = places.filter(({ id }) => ticked.has(id));
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title={`"${name}" is used in ${plural(places.length, 'place')}`}
      description="Saved, the change is heard in all of them. Or it goes into a copy of its own for those you tick, and the phrase stays as it is. You are asked this once."
    >
      <ul aria-label="Where it is used" className="mb-4 max-h-64 overflow-auto border-y border-rule">
        {places.map(({ kind, id, name: place }) => (
          <li key={id} className="quiet-row flex items-center gap-3 py-1">
            <span className="min-w-0 flex-1">
              <Checkbox label={place} on={ticked.has(id)} onChange={() => choose(id)} />
            </span>
            <span className="text-sm text-muted">{kind}</span>
          </li>
        ))}
      </ul>
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Go on changing</Button>
        <Button disabled={some.length === 0} onClick={() => onCopy(some)}>
          {some.length === 0 ? 'A copy: tick where' : `A copy for ${plural(some.length, 'place')}`}
        </Button>
        <Button kind="primary" onClick={onAll}>
          Change it everywhere
        </Button>
      </div>
    </Dialog>
  );
}
