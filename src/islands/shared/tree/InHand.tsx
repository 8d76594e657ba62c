import { DragOverlay } from '@dnd-kit/core';
import { snapCenterToCursor } from '@dnd-kit/modifiers';

/** What is in hand is small beside the row it was taken from. */
const UNDER_POINTER = [snapCenterToCursor];

/** What is carried, under the pointer. */
export function InHand({ words }: { words: string | null }) {
  return (
    <DragOverlay dropAnimation={null} modifiers={UNDER_POINTER}>
      {words && <div className="in-hand">{words}</div>}
    </DragOverlay>
  );
}
