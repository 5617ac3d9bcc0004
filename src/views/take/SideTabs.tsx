import { TriangleAlert } from 'lucide-react';

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
  const tab = (value: typeof side, title: string) => (
    <button
      type="button"
      aria-pressed={side === value}
      className="border-b-2 border-transparent pb-1 text-muted hover:text-ink aria-pressed:border-madder aria-pressed:font-bold aria-pressed:text-ink"
      onClick={() => onSide(value)}
    >
      {title}
    </button>
  );
  return (
    <div className="flex items-end gap-4 border-b border-rule">
      {tab('part', 'The part')}
      {tab('take', 'The take')}
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
