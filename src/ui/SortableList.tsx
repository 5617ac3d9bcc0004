import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type Announcements,
  type DragEndEvent,
  type UniqueIdentifier,
} from '@dnd-kit/core';
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import type { ReactNode } from 'react';

/** Something in a list that can be dragged to another place, by pointer or keyboard. */
export interface SortableItem {
  id: string;
  /** What it is called where a move is read out. */
  name: string;
}

/** A list whose rows can be put in another order. `onOrder` says which was moved, and from where to where. */
export function SortableList({
  items,
  onOrder,
  children,
}: {
  items: readonly SortableItem[];
  onOrder: (from: number, to: number) => void;
  children: ReactNode;
}) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const ids = items.map(({ id }) => id);
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    onOrder(ids.indexOf(String(active.id)), ids.indexOf(String(over.id)));
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      accessibility={{ announcements: announcementsFor(items) }}
      onDragEnd={onDragEnd}
    >
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  );
}

/** What is said to those who do not see a row move: names and places instead of ids. */
function announcementsFor(items: readonly SortableItem[]): Announcements {
  const name = (id: UniqueIdentifier) => items.find((item) => item.id === id)?.name ?? '';
  const place = (id: UniqueIdentifier) =>
    `place ${items.findIndex((item) => item.id === id) + 1} of ${items.length}`;
  return {
    onDragStart: ({ active }) => `${name(active.id)} is picked up, ${place(active.id)}.`,
    onDragOver: ({ active, over }) => (over ? `${name(active.id)} over ${place(over.id)}.` : undefined),
    onDragEnd: ({ active, over }) => `${name(active.id)} is put down, ${place((over ?? active).id)}.`,
    onDragCancel: ({ active }) => `${name(active.id)} stays where it was, ${place(active.id)}.`,
  };
}

/** What a row of the list needs: its reference and place while it is dragged, and what makes its handle one. */
export function useSortableRow(id: string) {
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id });
  return {
    row: {
      ref: setNodeRef,
      style: { transform: transform ? `translateY(${transform.y}px)` : undefined, transition },
    },
    handle: { ...attributes, ...listeners },
  };
}
