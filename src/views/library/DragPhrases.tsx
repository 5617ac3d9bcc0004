import {
  DndContext,
  DragOverlay,
  PointerSensor,
  pointerWithin,
  useDroppable,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { useState, type ReactNode } from 'react';
import { plural } from '../../core/words.ts';

/** A click that moves no further than this is a click, in pixels. */
const FAR = 8;

const TAG = 'tag ';
const BASKET = 'basket';

/** Rows that are inside can be dragged onto the basket and onto tags: the one that is dragged, or all that are chosen with it. */
export function DragPhrases({
  chosen,
  onBasket,
  onTag,
  children,
}: {
  chosen: ReadonlySet<string>;
  onBasket: (ids: readonly string[]) => void;
  onTag: (ids: readonly string[], tag: string) => void;
  children: ReactNode;
}) {
  const [dragged, setDragged] = useState<{ id: string; name: string } | null>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: FAR } }));
  const idsOf = (id: string) => (chosen.has(id) ? [...chosen] : [id]);
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={pointerWithin}
      onDragStart={({ active }) =>
        setDragged({ id: String(active.id), name: String(active.data.current?.name) })
      }
      onDragCancel={() => setDragged(null)}
      onDragEnd={({ active, over }) => {
        setDragged(null);
        const ids = idsOf(String(active.id));
        const place = over ? String(over.id) : '';
        if (place === BASKET) onBasket(ids);
        else if (place.startsWith(TAG)) onTag(ids, place.slice(TAG.length));
      }}
    >
      {children}
      <DragOverlay dropAnimation={null}>
        {dragged && (
          <span className="inline-block rounded-[3px] border border-rule bg-card px-2 py-1 font-bold shadow-lg">
            {idsOf(dragged.id).length > 1 ? plural(idsOf(dragged.id).length, 'phrase') : dragged.name}
          </span>
        )}
      </DragOverlay>
    </DndContext>
  );
}

/** A place that phrases can be dropped on: a tag, or (without one) the basket. */
export function DropPlace({ tag, children }: { tag?: string; children: ReactNode }) {
  const { setNodeRef, isOver } = useDroppable({ id: tag === undefined ? BASKET : TAG + tag });
  return (
    <div ref={setNodeRef} className={isOver ? 'rounded-[3px] outline-2 outline-indigo' : ''}>
      {children}
    </div>
  );
}
