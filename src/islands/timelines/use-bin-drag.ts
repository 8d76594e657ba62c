/** Dragging clips and bins onto bins: with the pointer, or taken hold of by space and moved by arrows. */
import {
  closestCenter,
  KeyboardSensor,
  PointerSensor,
  pointerWithin,
  useSensor,
  useSensors,
  type Announcements,
  type CollisionDetection,
  type DragEndEvent,
  type KeyboardCoordinateGetter,
} from '@dnd-kit/core';
import { useState } from 'react';
import { nameOf, parentOf } from '../../core/project/bins';

export const clipDragId = (clipId: string) => `clip ${clipId}`;
export const binDragId = (path: string) => `bin ${path}`;
export const binDropId = (path: string) => `into ${path}`;

const rest = (id: unknown, kind: string): string | null => (String(id).startsWith(kind) ? String(id).slice(kind.length) : null);

function binWords(id: unknown): string {
  const path = rest(id, 'into ');
  return path === null ? 'nothing' : path === '' ? 'no bin' : nameOf(path);
}

function inHand(words: string): string {
  return `${words} is in hand. Arrows choose a bin, space lets go, Escape puts it back.`;
}

/** Whether a thing can be let go there: no bin goes into itself, into what is inside of it, or where it is already. */
export function canDrop(dragged: unknown, over: unknown): boolean {
  const into = rest(over, 'into ');
  const bin = rest(dragged, 'bin ');
  if (into === null) return false;
  return bin === null || (into !== bin && !into.startsWith(`${bin}/`) && into !== parentOf(bin));
}

/** Arrows go from bin to bin. */
const fromBinToBin: KeyboardCoordinateGetter = (event, { active, context: { droppableRects, over, collisionRect } }) => {
  const way = { ArrowDown: 1, ArrowUp: -1 }[event.code];
  if (way === undefined) return undefined;
  event.preventDefault();
  const bins = [...droppableRects].filter(([id]) => canDrop(active, id)).sort((a, b) => a[1].top - b[1].top);
  if (bins.length === 0) return undefined;
  const at = bins.findIndex(([id]) => id === over?.id);
  const [, rect] = bins[at < 0 ? (way > 0 ? 0 : bins.length - 1) : Math.min(bins.length - 1, Math.max(0, at + way))]!;
  // So that its middle is the middle of the bin.
  return { x: rect.left + rect.width / 2 - (collisionRect?.width ?? 0) / 2, y: rect.top + rect.height / 2 - (collisionRect?.height ?? 0) / 2 };
};

/** What the pointer is over; by keyboard, what is nearest, once an arrow was pressed. */
const collisions: CollisionDetection = (args) => {
  const { initial } = args.active.rect.current;
  const isWhereItWas = initial?.top === args.collisionRect.top && initial.left === args.collisionRect.left;
  if (!args.pointerCoordinates && isWhereItWas) return [];
  const open = { ...args, droppableContainers: args.droppableContainers.filter(({ id }) => canDrop(args.active.id, id)) };
  return args.pointerCoordinates ? pointerWithin(open) : closestCenter(open);
};

interface Drops {
  readonly onClip: (clipId: string, path: string) => void;
  readonly onBin: (path: string, parent: string) => void;
}

export function useBinDrag({ onClip, onBin }: Drops) {
  const [words, setWords] = useState<string | null>(null);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: fromBinToBin }),
  );
  const said = (data: unknown) => (data as { words?: () => string } | undefined)?.words?.() ?? '';
  const announcements: Announcements = {
    onDragStart: ({ active }) => inHand(said(active.data.current)),
    onDragOver: ({ active, over }) => (over ? `${said(active.data.current)} over ${binWords(over.id)}.` : inHand(said(active.data.current))),
    onDragEnd: ({ active, over }) => (over ? `${said(active.data.current)} moved to ${binWords(over.id)}.` : 'Put back.'),
    onDragCancel: () => 'Put back.',
  };
  return {
    /** What is in hand; null while nothing is. */
    words,
    context: {
      sensors,
      collisionDetection: collisions,
      accessibility: { announcements },
      onDragStart: ({ active }: { active: { data: { current?: unknown } } }) => setWords(said(active.data.current)),
      onDragCancel: () => setWords(null),
      onDragEnd: ({ active, over }: DragEndEvent) => {
        setWords(null);
        const into = over && canDrop(active.id, over.id) ? rest(over.id, 'into ') : null;
        if (into === null) return;
        const clip = rest(active.id, 'clip ');
        const bin = rest(active.id, 'bin ');
        if (clip !== null) onClip(clip, into);
        else if (bin !== null) onBin(bin, into);
      },
    },
  };
}
