import { useQueries } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import type { FolderView } from '../../../server/stock/views/shelf';
import { api } from '../api';
import { ErrorNote } from '../ErrorNote';
import { IconFolder } from '../icons';
import { Tree, type TreeNode } from './Tree';

interface Props {
  readonly label: string;
  /** Begin of the cache keys, and address of the folders in a path. */
  readonly queryKey: readonly unknown[];
  readonly address: (path: string) => string;
  /** Name of the line for all of it; null where the top itself cannot be chosen. */
  readonly whole: string | null;
  readonly path: string;
  readonly onPath: (path: string) => void;
  readonly crates?: boolean;
}

type Folder = FolderView['folders'][number];

interface FolderNode extends TreeNode {
  readonly folder: Folder | null;
}

/** The path itself and all around it, so that the tree opens where one was. */
function around(path: string): string[] {
  return path.split('/').map((_name, index, names) => names.slice(0, index + 1).join('/'));
}

/** Folders within each other, read from the disk as they are opened. */
export function FolderTree({ label, queryKey, address, whole, path, onPath, crates = false }: Props) {
  const [open, setOpen] = useState<ReadonlySet<string>>(() => new Set(['', ...around(path).slice(0, -1)]));
  const paths = ['', ...[...open].filter((entry) => entry !== '')];
  const answers = useQueries({
    queries: paths.map((entry) => ({ queryKey: [...queryKey, entry], queryFn: () => api.getFrom<FolderView>(address(entry)), retry: false })),
  });
  const told = answers.map(({ data }) => data);
  const nodes = useMemo(() => {
    const byPath = new Map(paths.map((entry, index) => [entry, told[index]]));
    const out: FolderNode[] = whole === null ? [] : [{ id: '', parent: null, name: whole, folder: null }];
    const visit = (at: string, parent: string | null) => {
      for (const folder of byPath.get(at)?.folders ?? []) {
        const inside = byPath.get(folder.path);
        out.push({ id: folder.path, parent, name: folder.name, folder, mayOpen: inside === undefined || inside.folders.length > 0 });
        if (open.has(folder.path)) visit(folder.path, folder.path);
      }
    };
    visit('', whole === null ? null : '');
    return out;
  }, [whole, open, ...told]);
  const error = answers.find((answer) => answer.error)?.error;
  return (
    <>
      {error && <ErrorNote error={error} />}
      <div className="panel folder-list">
        <Tree
          label={label}
          nodes={nodes}
          selected={path}
          onSelect={onPath}
          open={open}
          onOpen={setOpen}
          line={({ folder, name }) => (
            <>
              <IconFolder size={15} /> <span className={folder ? 'name mono' : 'name'}>{name}</span>
              {folder?.shelfId && <span className="pill spruce">a shelf</span>}
              {crates && folder?.isCrate && <span className="pill dusk">a crate</span>}
            </>
          )}
        />
        {answers[0]?.data?.folders.length === 0 && whole === null && <div className="empty">No folders in here.</div>}
      </div>
    </>
  );
}
