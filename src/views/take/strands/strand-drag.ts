import { useRef, useState, type PointerEvent } from 'react';
import { heights, type BarLine } from '../../../ui/drawing/strand.ts';
import { type TimeWindow, timeScale } from '../../../ui/drawing/time-window.ts';
import type { Selection } from '../selection.ts';
import { OPEN_HEIGHT, STRAND_HEIGHT } from './StrandCanvas.tsx';
import type { Strand } from '../../shared/takes/strand-columns.ts';

/** A rectangle on the screen, in pixels of the window. */
interface Box {
  left: number;
  top: number;
  width: number;
  height: number;
}

/** How near to a note a click must be, in pixels. */
const NEAR = 6;

/**
 * Dragging over ruler and strands: bars are chosen, or notes in a box, or chosen notes are taken to another strand.
 */
export function useStrandDrag(
  {
    bars,
    window,
    selection,
    onGive,
  }: { bars: readonly BarLine[]; window: TimeWindow; selection: Selection; onGive: (part: string) => void },
  width: number,
) {
  const anchor = useRef<{ bar: number } | { x: number; y: number } | 'notes' | null>(null);
  const [box, setBox] = useState<Box | null>(null);
  const [over, setOver] = useState<string | null>(null);
  const x = timeScale(window, Math.max(1, width));
  const tickAt = (event: PointerEvent<HTMLElement>, clientX = event.clientX) =>
    x.invert(clientX - event.currentTarget.getBoundingClientRect().left);
  const barAt = (event: PointerEvent<HTMLElement>) =>
    Math.max(1, bars.findLastIndex((bar) => bar.tick <= tickAt(event)) + 1);
  const setBars = (from: number, to: number) =>
    selection.setRange({ start: Math.min(from, to), count: Math.abs(from - to) + 1 });

  const ruler = () => ({
    onPointerDown: (event: PointerEvent<HTMLElement>) => {
      if (event.button !== 0) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      anchor.current = { bar: barAt(event) };
      setBars(anchor.current.bar, anchor.current.bar);
    },
    onPointerMove: (event: PointerEvent<HTMLElement>) => {
      if (anchor.current && anchor.current !== 'notes' && 'bar' in anchor.current)
        setBars(anchor.current.bar, barAt(event));
    },
    onPointerUp: () => {
      anchor.current = null;
    },
  });

  /** Notes of a strand within a box; a box of no size takes the nearest. */
  const notesIn = (
    strand: Strand,
    isOpen: boolean,
    event: PointerEvent<HTMLElement>,
    area: Box,
  ): number[] => {
    const { top } = event.currentTarget.getBoundingClientRect();
    const tall = isOpen ? OPEN_HEIGHT : STRAND_HEIGHT;
    const height = heights(strand.notes, strand.part.role);
    const reach = area.width < 3 && area.height < 3 ? NEAR : 0;
    const from = tickAt(event, area.left - reach / 2);
    const to = tickAt(event, area.left + area.width + reach / 2);
    const { tick, duration, pitch } = strand.notes;
    return strand.indices.filter((_, k) => {
      const y = top + tall * (1 - height(pitch[k]!));
      const isWithin = y >= area.top - reach && y <= area.top + area.height + reach;
      return isWithin && tick[k]! <= to && tick[k]! + duration[k]! >= from;
    });
  };

  const strand = (one: Strand, isOpen: boolean) => ({
    onPointerDown: (event: PointerEvent<HTMLElement>) => {
      if (event.button !== 0) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      const adds = event.ctrlKey || event.metaKey || event.shiftKey;
      if (selection.choosing === 'bars') {
        selection.select(one.part.id, adds);
        anchor.current = { bar: barAt(event) };
        setBars(anchor.current.bar, anchor.current.bar);
        return;
      }
      if (!selection.partIds.includes(one.part.id)) selection.select(one.part.id, adds);
      const here = { left: event.clientX, top: event.clientY, width: 0, height: 0 };
      const hit = notesIn(one, isOpen, event, here);
      // What is chosen is taken along; else a box begins.
      if (!adds && hit.some((i) => selection.notes.has(i))) anchor.current = 'notes';
      else anchor.current = { x: event.clientX, y: event.clientY };
    },
    onPointerMove: (event: PointerEvent<HTMLElement>) => {
      const from = anchor.current;
      if (from === null) return;
      if (from === 'notes') return setOver(partUnder(event));
      if ('bar' in from) return setBars(from.bar, barAt(event));
      setBox(boxOf(from, event));
    },
    onPointerUp: (event: PointerEvent<HTMLElement>) => {
      const from = anchor.current;
      anchor.current = null;
      setBox(null);
      setOver(null);
      if (from === null || (from !== 'notes' && 'bar' in from)) return;
      if (from === 'notes') {
        const part = partUnder(event);
        if (part && part !== one.part.id) onGive(part);
        return;
      }
      const found = notesIn(one, isOpen, event, boxOf(from, event));
      const adds = event.ctrlKey || event.metaKey || event.shiftKey;
      selection.setNotes(adds ? toggled(selection.notes, found) : found);
    },
  });
  return { bars: ruler, strand, box, over };
}

export type StrandDrag = ReturnType<typeof useStrandDrag>;

function boxOf(from: { x: number; y: number }, event: PointerEvent): Box {
  return {
    left: Math.min(from.x, event.clientX),
    top: Math.min(from.y, event.clientY),
    width: Math.abs(from.x - event.clientX),
    height: Math.abs(from.y - event.clientY),
  };
}

function partUnder(event: PointerEvent): string | null {
  const element = document.elementFromPoint(event.clientX, event.clientY);
  return element?.closest<HTMLElement>('[data-part]')?.dataset.part ?? null;
}

/** Notes that were chosen are not any more, others are. */
function toggled(chosen: ReadonlySet<number>, found: readonly number[]): number[] {
  const result = new Set(chosen);
  for (const i of found) if (!result.delete(i)) result.add(i);
  return [...result].sort((a, b) => a - b);
}
