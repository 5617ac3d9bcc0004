import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef } from 'react';
import { rememberScroll, scrolledTo } from '../history/place.ts';

/** Rows loaded ahead of the last that is drawn. */
const AHEAD = 20;

/** A list of which only the rows in sight are drawn, however many there are; the current one is kept in sight. */
export function useVirtualRows<Row extends { id: string }>(
  list: readonly Row[],
  {
    height,
    overscan,
    current,
    headHeight = 0,
    onEnd,
    place,
  }: {
    /** Of a row, in pixels. */
    height: number;
    overscan: number;
    current: string | undefined;
    /** Of a head that stays at the top of the list. */
    headHeight?: number;
    /** The end of what is loaded comes into sight. */
    onEnd: () => void;
    /** Name under which the scroll is remembered: coming back to the list leads to where it was. */
    place: string;
  },
) {
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: list.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => height,
    overscan,
    scrollPaddingStart: headHeight,
    initialOffset: () => scrolledTo(place),
    onChange: ({ scrollOffset }) => scrollOffset !== null && rememberScroll(place, scrollOffset),
  });
  const index = list.findIndex(({ id }) => id === current);
  useEffect(() => {
    if (index >= 0) rows.scrollToIndex(index, { align: 'auto' });
  }, [index, rows]);
  const items = rows.getVirtualItems();
  const lastShown = items.at(-1)?.index ?? 0;
  useEffect(() => {
    if (lastShown >= list.length - AHEAD) onEnd();
  }, [lastShown, list.length, onEnd]);
  return { scroller, items, height: rows.getTotalSize() };
}
