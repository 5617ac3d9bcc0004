import { ArrowDown, ArrowUp, GripVertical, X } from 'lucide-react';
import { Switch } from 'radix-ui';
import type { ReactNode } from 'react';
import { STEP_TITLES, type RecipeStep, type StepReport } from '../../../core/normalize/recipe.ts';
import { useSortableRow } from '../../../ui/SortableList.tsx';
import { StepFields } from './StepFields.tsx';

/** One step of the recipe: on or off, its parameters, its place, and what it changed. */
export function StepCard({
  id,
  step,
  report,
  isDrums,
  onChange,
  onMove,
  onRemove,
}: {
  /** By which it is dragged. */
  id: string;
  step: RecipeStep;
  report: StepReport | undefined;
  isDrums: boolean;
  onChange: (step: RecipeStep) => void;
  onMove: (by: -1 | 1) => void;
  onRemove: () => void;
}) {
  const title = STEP_TITLES[step.step];
  const isOn = !step.off;
  const { row, handle } = useSortableRow(id);
  return (
    <li {...row} className="group border-b border-thread bg-paper py-2">
      <div className="flex items-center gap-2">
        <Switch.Root
          checked={isOn}
          onCheckedChange={(on) => onChange({ ...step, off: !on })}
          aria-label={`${title} on`}
          className="relative h-4 w-7 flex-none rounded-full border border-muted bg-card data-[state=checked]:border-indigo data-[state=checked]:bg-indigo"
        >
          <Switch.Thumb className="block size-2.5 translate-x-0.5 rounded-full bg-muted data-[state=checked]:translate-x-3.5 data-[state=checked]:bg-on-dye" />
        </Switch.Root>
        <h3 className={`text-base ${isOn ? '' : 'text-muted'}`}>{title}</h3>
        <span className="ml-auto flex">
          <button
            type="button"
            className="flex size-6 cursor-grab items-center justify-center rounded-[3px] text-muted hover:bg-sunk hover:text-ink"
            title={`Drag ${title} to another place`}
            {...handle}
            aria-label={`Drag ${title}`}
          >
            <GripVertical size={13} />
          </button>
          <IconButton label={`Move ${title} up`} onClick={() => onMove(-1)}>
            <ArrowUp size={13} />
          </IconButton>
          <IconButton label={`Move ${title} down`} onClick={() => onMove(1)}>
            <ArrowDown size={13} />
          </IconButton>
          <IconButton label={`Remove ${title}`} onClick={onRemove}>
            <X size={13} />
          </IconButton>
        </span>
      </div>
      <div
        className={`mt-1 flex flex-wrap items-center gap-x-3 gap-y-1 pl-9 text-sm ${isOn ? '' : 'opacity-60'}`}
      >
        <StepFields step={step} onChange={onChange} isDrums={isDrums} />
      </div>
      {isOn && <p className="mt-1 pl-9 text-xs text-muted">{report?.summary}</p>}
    </li>
  );
}

function IconButton({
  label,
  onClick,
  children,
}: {
  label: string;
  onClick: () => void;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      onClick={onClick}
      className="flex size-6 items-center justify-center rounded-[3px] text-muted hover:bg-sunk hover:text-ink"
    >
      {children}
    </button>
  );
}
