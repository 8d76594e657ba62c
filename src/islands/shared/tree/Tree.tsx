import { useDraggable, useDroppable } from '@dnd-kit/core';
import { syncDataLoaderFeature, type ItemInstance } from '@headless-tree/core';
import { useTree } from '@headless-tree/react';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type ReactNode } from 'react';
import { IconChevron } from '../icons';
import { Grip } from '../table/Grip';

export interface TreeNode {
  readonly id: string;
  /** Null at the top. */
  readonly parent: string | null;
  readonly name: string;
  /** May have children that are not loaded; absent if `nodes` is complete. */
  readonly mayOpen?: boolean;
}

interface Props<Node extends TreeNode> {
  readonly label: string;
  /** In the order they are shown, parents before their children. */
  readonly nodes: readonly Node[];
  readonly selected: string;
  readonly onSelect: (id: string) => void;
  /** The open ones, where what is inside comes only when one is opened; left out, all begin open. */
  readonly open?: ReadonlySet<string>;
  readonly onOpen?: (open: ReadonlySet<string>) => void;
  /** What stands in a line. */
  readonly line: (node: Node) => ReactNode;
  readonly title?: (node: Node) => string;
  /** Within a DndContext: what a line is when it is dragged, null for one that stays; and what may be let go on it. */
  readonly drag?: (node: Node) => { readonly id: string; readonly words: string } | null;
  readonly dropId?: (node: Node) => string;
}

const LINE_PX = 32;
/** Lines around those in sight; where things are let go on lines, all that a hand may carry them to. */
const AROUND = 10;
const AROUND_DROPS = 500;

/** No name of a node. */
const ROOT = '\0root';

/** Things within each other: arrows walk, right and left open and close; the line with the keyboard is the one in hand. */
export function Tree<Node extends TreeNode>({ label, nodes, selected, onSelect, open, onOpen, line, title, drag, dropId }: Props<Node>) {
  const byId = useMemo(() => new Map(nodes.map((node) => [node.id, node])), [nodes]);
  const children = useMemo(() => {
    const out = new Map<string, string[]>();
    for (const { id, parent } of nodes) {
      const own = out.get(parent ?? ROOT);
      if (own) own.push(id);
      else out.set(parent ?? ROOT, [id]);
    }
    return out;
  }, [nodes]);
  const [closed, setClosed] = useState<ReadonlySet<string>>(new Set());
  // The same list while it says the same: another one makes the tree anew.
  const expanded = useMemo(
    () => nodes.flatMap(({ id }) => (children.has(id) && (open ? open.has(id) : !closed.has(id)) ? [id] : [])),
    [nodes, children, closed, open],
  );
  const tree = useTree<TreeNode>({
    rootItemId: ROOT,
    getItemName: (item) => item.getItemData().name,
    isItemFolder: (item) => byId.get(item.getId())?.mayOpen ?? children.has(item.getId()),
    dataLoader: { getItem: (id) => byId.get(id) ?? { id, parent: null, name: '' }, getChildren: (id) => children.get(id) ?? [] },
    state: { expandedItems: expanded, focusedItem: byId.has(selected) ? selected : null },
    setExpandedItems: (next) => {
      const now = new Set(typeof next === 'function' ? next(expanded) : next);
      if (onOpen) onOpen(now);
      else setClosed(new Set([...children.keys()].filter((id) => !now.has(id))));
    },
    setFocusedItem: (next) => {
      const id = typeof next === 'function' ? next(selected) : next;
      if (id !== null && id !== selected) onSelect(id);
    },
    scrollToItem: (item) => virtual.scrollToIndex(item.getItemMeta().index, { align: 'auto' }),
    features: [syncDataLoaderFeature],
  });
  const items = tree.getItems();
  const box = useRef<HTMLElement | null>(null);
  const virtual = useVirtualizer({
    count: items.length,
    getScrollElement: () => box.current,
    estimateSize: () => LINE_PX,
    overscan: dropId ? AROUND_DROPS : AROUND,
    useFlushSync: false,
  });
  useEffect(() => tree.rebuildTree(), [nodes, closed, open]);
  const onKeyDown = (event: KeyboardEvent) => {
    // Keys on a grip or a field in a line are that one's own.
    if ((event.target as HTMLElement).getAttribute('role') !== 'treeitem' || event.altKey || event.ctrlKey || event.metaKey) return;
    const item = tree.getFocusedItem();
    const moves: Record<string, () => void> = {
      ArrowDown: () => tree.focusNextItem(),
      ArrowUp: () => tree.focusPreviousItem(),
      Home: () => tree.getItems()[0]?.setFocused(),
      End: () => tree.getItems().at(-1)?.setFocused(),
      ArrowRight: () => (item.isFolder() && !item.isExpanded() ? item.expand() : item.isFolder() && tree.focusNextItem()),
      ArrowLeft: () => (item.isFolder() && item.isExpanded() ? item.collapse() : item.getItemMeta().level > 0 && item.getParent()?.setFocused()),
    };
    const move = moves[event.key];
    if (!move) return;
    event.preventDefault();
    move();
    tree.updateDomFocus();
  };
  const { ref, ...props } = tree.getContainerProps(label) as { ref: (node: HTMLElement | null) => void };
  return (
    <div {...props} ref={(node) => ((box.current = node), ref(node))} className="tree" onKeyDown={onKeyDown}>
      <div role="presentation" className="lines" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().flatMap(({ index, start }) => {
          const item = items[index];
          const node = item && byId.get(item.getId());
          if (!node) return [];
          const shared = { item, top: start, title: title?.(node), isSelected: node.id === selected, onSelect: () => onSelect(node.id) };
          return [
            dropId ? (
              <MovableLine key={node.id} {...shared} drag={drag?.(node) ?? null} dropId={dropId(node)}>
                {line(node)}
              </MovableLine>
            ) : (
              <Line key={node.id} {...shared}>
                {line(node)}
              </Line>
            ),
          ];
        })}
      </div>
    </div>
  );
}

interface LineProps {
  readonly item: ItemInstance<TreeNode>;
  readonly top: number;
  readonly title: string | undefined;
  readonly isSelected: boolean;
  readonly onSelect: () => void;
  readonly children: ReactNode;
  readonly className?: string;
  readonly take?: (node: HTMLElement | null) => void;
  readonly grip?: ReactNode;
  readonly onPointerDown?: (event: React.PointerEvent) => void;
}

function Line({ item, top, title, isSelected, onSelect, children, className = '', take, grip, onPointerDown }: LineProps) {
  const { ref, 'aria-label': _label, ...props } = item.getProps() as { ref: (node: HTMLElement | null) => void; 'aria-label': string };
  return (
    <div
      {...props}
      ref={(node) => (ref(node), take?.(node))}
      aria-selected={isSelected}
      className={`line${isSelected ? ' sel' : ''}${className}`}
      // By its top: what is let go on lines is measured without their transforms.
      style={{ paddingLeft: 4 + 14 * item.getItemMeta().level, top }}
      title={title}
      onClick={() => (onSelect(), item.getElement()?.focus())}
      onPointerDown={onPointerDown}
    >
      <span
        className={item.isExpanded() ? 'chevron open' : 'chevron'}
        aria-hidden
        onClick={(event) => {
          if (!item.isFolder()) return;
          event.stopPropagation();
          if (item.isExpanded()) item.collapse();
          else item.expand();
        }}
      >
        {item.isFolder() && <IconChevron size={13} />}
      </span>
      {children}
      {grip}
    </div>
  );
}

function MovableLine({ drag, dropId, ...line }: LineProps & { drag: { id: string; words: string } | null; dropId: string }) {
  const { setNodeRef: takeDrop, isOver } = useDroppable({ id: dropId });
  const dragged = useDraggable({ id: drag?.id ?? `no ${dropId}`, disabled: drag === null, data: { words: () => drag?.words ?? '' } });
  return (
    <Line
      {...line}
      className={`${isOver ? ' over' : ''}${dragged.isDragging ? ' dragged' : ''}`}
      take={(node) => (takeDrop(node), dragged.setNodeRef(node))}
      onPointerDown={dragged.listeners?.onPointerDown as ((event: React.PointerEvent) => void) | undefined}
      grip={
        drag && (
          <Grip
            label={`Drag ${drag.words}`}
            attributes={dragged.attributes}
            listeners={dragged.listeners}
            setActivatorNodeRef={dragged.setActivatorNodeRef}
          />
        )
      }
    />
  );
}
