import { useMemo, useState } from 'react';
import { fileName, folderOf, joinPath } from '../../core/media/item';
import type { SortDetail } from '../../core/planning/sort/sort';
import type { TreeFolder } from '../../core/planning/sort/sort-rows';
import { formatBytes, formatCount } from '../../core/words/figures';
import { Tree, type TreeNode } from '../shared/tree/Tree';
import { NothingYet } from './SortRows';
import { useShelfNames } from '../shared/use-shelf-names';

interface Node extends TreeNode {
  readonly files: number;
  readonly bytes: number;
}

/** Both trees side by side: what lies where now, and what would lie where then. */
export function NowThen({ detail, destination }: { detail: SortDetail; destination: string | null }) {
  const shelfName = useShelfNames();
  const now = useMemo(() => {
    const shelves = [...new Set(detail.now.map(({ shelfId }) => shelfId))];
    return shelves.flatMap((id) =>
      nodesOf(
        detail.now.filter(({ shelfId }) => shelfId === id),
        shelfName(id),
      ),
    );
  }, [detail.now, shelfName]);
  const then = useMemo(
    () => nodesOf(detail.then, destination === null ? 'no shelf is chosen' : shelfName(destination)),
    [detail.then, destination, shelfName],
  );
  if (now.length === 0) return <NothingYet />;
  return (
    <div className="now-then of-plan">
      <Side title="Now" nodes={now} />
      <Side title="Then" nodes={then} />
    </div>
  );
}

function Side({ title, nodes }: { title: string; nodes: readonly Node[] }) {
  const [selected, select] = useState('');
  const top = nodes.filter(({ parent }) => parent === null);
  const sum = (of: (node: Node) => number) => top.reduce((all, node) => all + of(node), 0);
  return (
    <div className="panel side">
      <div className="bin-head">
        <b>{title}</b>
        <span className="soft">
          {formatCount(nodes.length - top.length)} folders · {formatCount(sum(({ files }) => files))} files · {formatBytes(sum(({ bytes }) => bytes))}
        </span>
      </div>
      <Tree
        label={`Folders ${title.toLowerCase()}`}
        nodes={nodes}
        selected={selected}
        onSelect={select}
        title={({ id, files, bytes }) => `${id}\n${formatCount(files)} files, ${formatCount(bytes)} bytes`}
        line={({ name, files, bytes }) => (
          <>
            <span className="name mono">{name}</span>
            <span className="lands">
              {files === 0 ? (
                <span className="soft">empty</span>
              ) : (
                <>
                  {formatCount(files)} <span className="soft">{formatBytes(bytes)}</span>
                </>
              )}
            </span>
          </>
        )}
      />
    </div>
  );
}

function nodesOf(folders: readonly TreeFolder[], shelf: string): Node[] {
  const id = (path: string) => joinPath(shelf, path);
  return folders.map(({ path, files, bytes }) => ({
    id: id(path),
    parent: path === '' ? null : id(folderOf(path)),
    name: path === '' ? shelf : fileName(path),
    files,
    bytes,
  }));
}
