/** Dragging clips and bins onto bins. */
import { nameOf, parentOf, isInside } from '../../core/project/bins';
import { useTreeDrag } from '../shared/tree/use-tree-drag';

export const clipDragId = (clipId: string) => `clip ${clipId}`;
export const binDragId = (path: string) => `bin ${path}`;
export const binDropId = (path: string) => `into ${path}`;

const rest = (id: string, kind: string): string | null => (id.startsWith(kind) ? id.slice(kind.length) : null);

function binWords(id: string): string {
  const path = rest(id, 'into ');
  return path === null ? 'nothing' : path === '' ? 'no bin' : nameOf(path);
}

/** Whether a thing can be let go there: no bin goes into itself, into what is inside of it, or where it is already. */
export function canDrop(dragged: string, over: string): boolean {
  const into = rest(over, 'into ');
  const bin = rest(dragged, 'bin ');
  if (into === null) return false;
  return bin === null || (!isInside(into, bin) && into !== parentOf(bin));
}

interface Drops {
  readonly onClip: (clipId: string, path: string) => void;
  readonly onBin: (path: string, parent: string) => void;
}

export function useBinDrag({ onClip, onBin }: Drops) {
  return useTreeDrag({
    canDrop,
    words: binWords,
    line: 'bin',
    onDrop(dragged, over) {
      const into = rest(over, 'into ')!;
      const clip = rest(dragged, 'clip ');
      const bin = rest(dragged, 'bin ');
      if (clip !== null) onClip(clip, into);
      else if (bin !== null) onBin(bin, into);
    },
  });
}
