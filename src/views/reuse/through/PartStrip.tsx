import { useMemo } from 'react';
import { RoleMark } from '../../../ui/drawing/RoleMark.tsx';
import type { OutsideRow } from './OutsideList.tsx';
import { ThroughStrand } from './ThroughStrand.tsx';
import type { Taken } from './through-edit.ts';

/** One part over the chords, with its name at the left by which it is chosen. */
export function PartStrip({
  taken,
  bars,
  isSelected,
  looked,
  outside,
  isPlaying,
  onSelect,
  onLook,
}: {
  taken: Taken;
  bars: Parameters<typeof ThroughStrand>[0]['bars'];
  isSelected: boolean;
  looked: number | undefined;
  outside: readonly OutsideRow[];
  isPlaying: boolean;
  onSelect: () => void;
  onLook: (note: number) => void;
}) {
  const { phrase, hollow, result } = taken;
  const own = useMemo(
    () => new Set(outside.filter(({ part }) => part.id === phrase.id).map(({ note }) => note)),
    [outside, phrase.id],
  );
  return (
    <div className="flex min-h-14 flex-1 gap-2">
      <button
        type="button"
        className={`flex w-14 flex-none flex-col items-end justify-center gap-0.5 rounded-[3px] border px-1 text-xs ${isSelected ? 'border-ink bg-sunk' : 'border-transparent text-muted hover:text-ink'}`}
        aria-pressed={isSelected}
        title={phrase.name}
        onClick={onSelect}
      >
        <RoleMark role={phrase.role} bare />
        <span className="w-full truncate text-right">{phrase.partName}</span>
      </button>
      <ThroughStrand
        hollow={hollow}
        solid={result.clip}
        outside={own}
        chosen={looked}
        bars={bars}
        isPlaying={isPlaying}
        onChoose={onLook}
      />
    </div>
  );
}
