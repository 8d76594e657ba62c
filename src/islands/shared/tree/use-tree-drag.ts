/** Dragging things onto lines of a tree: with the pointer, or taken hold of by space and moved by arrows. */
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
import { useMemo, useState } from 'react';

interface Drops {
  /** Whether a thing can be let go there. */
  readonly canDrop: (dragged: string, over: string) => boolean;
  /** What a line is called. */
  readonly words: (over: string) => string;
  readonly onDrop: (dragged: string, over: string) => void;
  /** What the lines are, in a word: "bin". */
  readonly line: string;
}

export function useTreeDrag({ canDrop, words: lineWords, onDrop, line }: Drops) {
  const [words, setWords] = useState<string | null>(null);
  const { collisions, coordinateGetter } = useMemo(() => waysOf(canDrop), [canDrop]);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }), useSensor(KeyboardSensor, { coordinateGetter }));
  const said = (data: unknown) => (data as { words?: () => string } | undefined)?.words?.() ?? '';
  const inHand = (what: string) => `${what} is in hand. Arrows choose a ${line}, space lets go, Escape puts it back.`;
  const announcements: Announcements = {
    onDragStart: ({ active }) => inHand(said(active.data.current)),
    onDragOver: ({ active, over }) => (over ? `${said(active.data.current)} over ${lineWords(String(over.id))}.` : inHand(said(active.data.current))),
    onDragEnd: ({ active, over }) => (over ? `${said(active.data.current)} moved to ${lineWords(String(over.id))}.` : 'Put back.'),
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
        if (over && canDrop(String(active.id), String(over.id))) onDrop(String(active.id), String(over.id));
      },
    },
  };
}

function waysOf(canDrop: Drops['canDrop']) {
  /** Arrows go from line to line. */
  const coordinateGetter: KeyboardCoordinateGetter = (event, { active, context: { droppableRects, over, collisionRect } }) => {
    const way = { ArrowDown: 1, ArrowUp: -1 }[event.code];
    if (way === undefined) return undefined;
    event.preventDefault();
    const lines = [...droppableRects].filter(([id]) => canDrop(String(active), String(id))).sort((a, b) => a[1].top - b[1].top);
    if (lines.length === 0) return undefined;
    const at = lines.findIndex(([id]) => id === over?.id);
    const [, rect] = lines[at < 0 ? (way > 0 ? 0 : lines.length - 1) : Math.min(lines.length - 1, Math.max(0, at + way))]!;
    // So that its middle is the middle of the line.
    return { x: rect.left + rect.width / 2 - (collisionRect?.width ?? 0) / 2, y: rect.top + rect.height / 2 - (collisionRect?.height ?? 0) / 2 };
  };
  /** What the pointer is over; by keyboard, what is nearest, once an arrow was pressed. */
  const collisions: CollisionDetection = (args) => {
    const { initial } = args.active.rect.current;
    const isWhereItWas = initial?.top === args.collisionRect.top && initial.left === args.collisionRect.left;
    if (!args.pointerCoordinates && isWhereItWas) return [];
    const open = { ...args, droppableContainers: args.droppableContainers.filter(({ id }) => canDrop(String(args.active.id), String(id))) };
    return args.pointerCoordinates ? pointerWithin(open) : closestCenter(open);
  };
  return { coordinateGetter, collisions };
}
