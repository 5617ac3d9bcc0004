import {
  DndContext,
  DragOverlay,
  PointerSensor,
  pointerWithin,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { useState, type ReactNode } from 'react';
import type { Place } from './place.ts';

/** A click that moves no further than this is a click, in pixels. */
const FAR = 8;

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
  const [dragged, setDragged] = useState<Dragged | null>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: FAR } }));
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={pointerWithin}
      onDragStart={({ active }) => setDragged(active.data.current as Dragged)}
      onDragCancel={() => setDragged(null)}
      onDragEnd={({ active, over }) => {
        setDragged(null);
        if (over) onDrop(active.data.current as Dragged, over.data.current as Place);
      }}
    >
      {children}
      <DragOverlay dropAnimation={null}>
        {dragged && (
          <span className="inline-block rounded-[3px] border border-rule bg-card px-2 py-1 font-bold shadow-lg">
            {dragged.name}
          </span>
        )}
      </DragOverlay>
    </DndContext>
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
