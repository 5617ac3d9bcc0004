import { useDraggable, useDroppable } from '@dnd-kit/core';
import type { ReactNode } from 'react';
import { DragArea } from '../../ui/DragArea.tsx';
import type { Place } from './place.ts';

/** What is dragged: a phrase, or its whole sheaf. */
export interface Dragged {
  phrase: string;
  name: string;
  isSheaf: boolean;
}

/** Phrases that are inside can be dragged onto cells and sections that are inside. */
export function DragOnSheet({
  onDrop,
  children,
}: {
  onDrop: (dragged: Dragged, place: Place) => void;
  children: ReactNode;
}) {
  return (
    <DragArea
      labelOf={({ data }) => (data.current as Dragged).name}
      onDrop={({ data }, over) => onDrop(data.current as Dragged, over.data.current as Place)}
    >
      {children}
    </DragArea>
  );
}

/** A row that can be dragged onto the sheet. */
export function DragRow({ dragged, children }: { dragged: Dragged; children: ReactNode }) {
  const { setNodeRef, listeners } = useDraggable({
    id: `${dragged.isSheaf ? 'sheaf' : 'phrase'} ${dragged.phrase}`,
    data: dragged,
  });
  return (
    <div ref={setNodeRef} {...listeners}>
      {children}
    </div>
  );
}

/** A place of the sheet that takes what is dropped. */
export function useDropPlace(place: Place) {
  return useDroppable({ id: `${place.section} ${place.part}`, data: place });
}
