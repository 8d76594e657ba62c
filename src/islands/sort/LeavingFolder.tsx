import { Button } from '@mantine/core';
import { folderOfId } from '../../core/scheme/edit-scheme';
import { allFolders, type Scheme } from '../../core/scheme/scheme';
import { Dialog } from '../shared/Dialog';
import { plural } from '../shared/figures';

interface Props {
  readonly scheme: Scheme;
  /** Null while there is nothing to ask. */
  readonly id: string | null;
  readonly onKeep: () => void;
  readonly onRemove: (id: string) => void;
}

/** A folder with folders in it takes them along. */
export function LeavingFolder({ scheme, id, onKeep, onRemove }: Props) {
  const folder = id === null ? null : folderOfId(scheme, id);
  const inner = folder ? allFolders(folder.folders) : [];
  return (
    <Dialog opened={folder !== null} onClose={onKeep} title={`Remove "${folder?.name ?? ''}" with the ${plural(inner.length, 'folder')} in it?`}>
      <p className="tight-above">{inner.map(({ way }) => way.map(({ name }) => name).join(' / ')).join(', ')}</p>
      <p className="soft">Their rules go too. Folders and files on the shelves stay; what these rules took goes where the next rule says.</p>
      <div className="controls">
        <span className="push" />
        <Button variant="default" onClick={onKeep}>
          Keep them
        </Button>
        <Button color="red" onClick={() => id !== null && onRemove(id)}>
          Remove {plural(inner.length + 1, 'folder')}
        </Button>
      </div>
    </Dialog>
  );
}
