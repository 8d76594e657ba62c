import type { useDraggable } from '@dnd-kit/core';
import { IconGrip } from '../icons';

type Dragged = Pick<ReturnType<typeof useDraggable>, 'attributes' | 'listeners' | 'setActivatorNodeRef'>;

/** Where a thing is taken hold of: with the pointer, or with space and arrows. */
export function Grip({ label, attributes, listeners, setActivatorNodeRef }: Dragged & { label: string }) {
  return (
    <button
      type="button"
      className="grip"
      aria-label={label}
      title="Drag; by keyboard: space, arrows, space"
      {...attributes}
      {...listeners}
      ref={setActivatorNodeRef}
      onClick={(event) => event.stopPropagation()}
    >
      <IconGrip size={13} />
    </button>
  );
}
