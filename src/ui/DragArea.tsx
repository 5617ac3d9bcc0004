import {
  DndContext,
  DragOverlay,
  MeasuringStrategy,
  PointerSensor,
  pointerWithin,
  useSensor,
  useSensors,
  type Active,
  type Over,
} from '@dnd-kit/core';
import { useState, type ReactNode } from 'react';

/** A click that moves no further than this is a click, in pixels. */
const FAR = 8;

/** Places move while something is dragged, where a line above them comes or goes: they are looked at again so often, in milliseconds. */
const MEASURING = { droppable: { strategy: MeasuringStrategy.WhileDragging, frequency: 60 } };

/** What is inside can be dragged from place to place; a label under the pointer says what is on its way. */
export function DragArea({
  labelOf,
  onDrop,
  children,
}: {
  labelOf: (dragged: Active) => string;
  onDrop: (dragged: Active, over: Over) => void;
  children: ReactNode;
}) {
  const [dragged, setDragged] = useState<Active | null>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: FAR } }));
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={pointerWithin}
      measuring={MEASURING}
      onDragStart={({ active }) => setDragged(active)}
      onDragCancel={() => setDragged(null)}
      onDragEnd={({ active, over }) => {
        setDragged(null);
        if (over) onDrop(active, over);
      }}
    >
      {children}
      <DragOverlay dropAnimation={null}>
        {dragged && (
          <span className="inline-block rounded-[3px] border border-rule bg-card px-2 py-1 font-bold shadow-lg">
            {labelOf(dragged)}
          </span>
        )}
      </DragOverlay>
    </DndContext>
  );
}
