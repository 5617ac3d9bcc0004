import { TriangleAlert } from 'lucide-react';
import { Tabs } from '../../../ui/Tabs.tsx';

/** What the side tells of: the part that is chosen, or the whole take. */
export function SideTabs({
  side,
  onSide,
  warnings,
}: {
  side: 'part' | 'take';
  onSide: (side: 'part' | 'take') => void;
  warnings: number;
}) {
  return (
    <div className="flex items-end gap-4 border-b border-rule">
      <Tabs
        value={side}
        tabs={[
          ['part', 'The part'],
          ['take', 'The take'],
        ]}
        onValue={onSide}
      />
      {warnings > 0 && (
        <button
          type="button"
          className="ml-auto flex items-center gap-1 pb-1 text-sm text-madder"
          onClick={() => onSide('take')}
          title="What looks wrong with this take"
        >
          <TriangleAlert size={13} aria-hidden="true" /> {warnings} to look at
        </button>
      )}
    </div>
  );
}
