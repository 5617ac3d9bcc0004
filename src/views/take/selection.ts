import { useMemo, useState } from 'react';
import type { BarRange, Strand } from '../shared/takes/strand-columns.ts';

/** What dragging over a strand chooses. */
export type Choosing = 'bars' | 'notes';

/**
 * What is chosen of a take: parts, bars, and notes (indices into the take's, of the chosen parts only). A part that is
 * gone is not chosen any more.
 */
export function useSelection(strands: readonly Strand[], bars: number, given: BarRange | null) {
  const [partIds, setPartIds] = useState<string[]>(() => strands.slice(0, 1).map(({ part }) => part.id));
  const [range, setRange] = useState<BarRange | null>(given);
  const [choosing, setChoosing] = useState<Choosing>('bars');
  const [noteIndices, setNotes] = useState<readonly number[]>([]);
  const selected = useMemo(
    () => partIds.flatMap((id) => strands.find(({ part }) => part.id === id) ?? []),
    [partIds, strands],
  );
  // Notes that have gone to another part are not chosen there.
  const notes = useMemo(() => {
    const within = new Set(selected.flatMap(({ indices }) => indices));
    return new Set(noteIndices.filter((i) => within.has(i)));
  }, [selected, noteIndices]);

  const select = (part: string, add: boolean) =>
    setPartIds((now) =>
      !add ? [part] : now.includes(part) ? now.filter((other) => other !== part) : [...now, part],
    );
  const step = (by: number, add: boolean) => {
    const at = strands.findIndex(({ part }) => part.id === partIds.at(-1));
    const next = strands[Math.min(Math.max(0, at + by), strands.length - 1)];
    if (next && !(add && partIds.includes(next.part.id))) select(next.part.id, add);
  };
  const moveRange = (by: number, resize: boolean) => {
    if (!range) return setRange({ start: 1, count: Math.min(4, bars) });
    const count = resize ? Math.min(Math.max(1, range.count + by), bars - range.start + 1) : range.count;
    const start = resize ? range.start : Math.min(Math.max(1, range.start + by), bars - count + 1);
    setRange({ start, count });
  };
  /** The note before or after the last one chosen, in the last part chosen. */
  const stepNote = (by: number, add: boolean) => {
    const { indices = [] } = selected.at(-1) ?? {};
    const last = noteIndices.at(-1);
    const at = last === undefined ? (by > 0 ? -1 : indices.length) : indices.indexOf(last);
    const next = indices[Math.min(Math.max(0, at + by), indices.length - 1)];
    if (next !== undefined) setNotes(add ? [...noteIndices.filter((i) => i !== next), next] : [next]);
  };
  return {
    /** Ids of the parts, in the order in which they were chosen. */
    partIds: selected.map(({ part }) => part.id),
    selected,
    range,
    choosing,
    notes,
    /** The note that was chosen last; undefined where none is. */
    lastNote: notes.size > 0 ? noteIndices.at(-1) : undefined,
    select,
    setParts: setPartIds,
    setRange,
    setChoosing,
    setNotes,
    step,
    moveRange,
    stepNote,
  };
}

export type Selection = ReturnType<typeof useSelection>;
