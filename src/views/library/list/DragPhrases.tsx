import { useDroppable } from '@dnd-kit/core';
import type { ReactNode } from 'react';
import { plural } from '../../../core/words.ts';
import { DragArea } from '../../../ui/DragArea.tsx';

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
  const idsOf = (id: string) => (chosen.has(id) ? [...chosen] : [id]);
  return (
    <DragArea
      labelOf={({ id, data }) => {
        const { length } = idsOf(String(id));
        return length > 1 ? plural(length, 'phrase') : String(data.current?.name);
      }}
      onDrop={(dragged, { id: place }) => {
        const ids = idsOf(String(dragged.id));
        if (place === BASKET) onBasket(ids);
        else if (String(place).startsWith(TAG)) onTag(ids, String(place).slice(TAG.length));
      }}
    >
      {children}
    </DragArea>
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
