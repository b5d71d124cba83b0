import { type RefObject } from 'react';
import { useDrag, useDrop } from 'react-aria';

/** Something that is carried by its id from one place to another of the same kind. */
interface DraggedItem {
  /** Only what is of the same kind can be dropped here. */
  kind: string;
  id: string;
}

/** Lets something be carried. Keys and taps keep the meaning that they have without it. */
export function useCarry({ kind, id }: DraggedItem) {
  const { dragProps, isDragging } = useDrag({
    getItems: () => [{ [kind]: id }],
    hasDragButton: true,
  });
  return { dragProps, isDragging };
}

/** Calls back with the id of what was dropped on an element. */
export function useReceive(
  ref: RefObject<HTMLElement | null>,
  { kind, onDrop }: { kind: string; onDrop: (id: string) => void },
) {
  const { dropProps, isDropTarget } = useDrop({
    ref,
    getDropOperation: (types) => (types.has(kind) ? 'move' : 'cancel'),
    onDrop: ({ items }) => {
      for (const item of items)
        if (item.kind === 'text' && item.types.has(kind)) void item.getText(kind).then(onDrop);
    },
  });
  return { dropProps, isDropTarget };
}
