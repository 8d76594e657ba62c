import { Button, Group, Select } from '@mantine/core';
import { useState } from 'react';
import { formatBytes } from '../../core/words/figures';
import type { Place } from '../../core/media/item';
import { IconFolder } from './icons';
import { FolderTree } from './tree/FolderTree';
import { CancelButton, Dialog } from './Dialog';
import { useShelves } from './questions';
import { useUsedShelves } from './use-used-shelves';

interface Props {
  readonly label: string;
  readonly value: Place | null;
  readonly onChange: (place: Place | null) => void;
  /** Text of an entry that chooses no place; none without it. */
  readonly none?: string;
}

function freeWords({ freeBytes }: { readonly freeBytes: number | null }): string {
  return freeBytes === null ? 'free space unknown' : `${formatBytes(freeBytes)} free`;
}

/** A shelf, and a folder on it when wanted. Shelves that cannot be chosen say why. */
export function PlacePicker({ label, value, onChange, none }: Props) {
  const query = useShelves();
  const { data: shelves = [] } = query;
  const [browsing, setBrowsing] = useState(false);
  const { isUsed, use } = useUsedShelves();
  const options = shelves.map((shelf) => ({
    value: shelf.id,
    label: shelf.attached ? `${shelf.name} · ${freeWords(shelf)}` : `${shelf.name} · unplugged`,
    disabled: !shelf.attached,
  }));
  const [used, others] = [options.filter(({ value: id }) => isUsed(id)), options.filter(({ value: id }) => !isUsed(id))];
  const data = used.length > 0 && others.length > 0 ? [{ group: 'Used before', items: used }, { group: 'Not used yet', items: others }] : options; // prettier-ignore
  return (
    <Group gap={6} wrap="nowrap">
      <Select
        aria-label={label}
        size="xs"
        w={214}
        placeholder={query.isPending ? 'Reading the shelves …' : label}
        disabled={query.isPending}
        error={!query.data && query.error?.message}
        data={none ? [{ value: '', label: none }, ...data] : data}
        value={value?.shelfId ?? (none ? '' : null)}
        allowDeselect={false}
        onChange={(shelfId) => {
          if (shelfId) use(shelfId);
          onChange(shelfId ? { shelfId, path: '' } : null);
        }}
        comboboxProps={{ withinPortal: true }}
      />
      {value && (
        <Button
          size="xs"
          variant="default"
          leftSection={<IconFolder size={14} />}
          onClick={() => setBrowsing(true)}
          title={value.path || 'The whole shelf'}
          classNames={{ label: 'short-label' }}
        >
          {value.path.split('/').at(-1) || 'Folder'}
        </Button>
      )}
      {value && <ShelfFolders opened={browsing} onClose={() => setBrowsing(false)} place={value} onChoose={onChange} />}
    </Group>
  );
}

export function ShelfFolders({
  opened,
  onClose,
  place,
  onChoose,
  crates = false,
}: {
  opened: boolean;
  onClose: () => void;
  place: Place;
  onChoose: (place: Place) => void;
  crates?: boolean;
}) {
  const [path, setPath] = useState(place.path);
  const choose = () => {
    onChoose({ shelfId: place.shelfId, path });
    onClose();
  };
  return (
    <Dialog opened={opened} onClose={onClose} title={path === '' ? 'Folders of this shelf' : path}>
      <FolderTree
        label="Folders of this shelf"
        queryKey={['folders', place.shelfId]}
        address={(at) => `shelves/${place.shelfId}/folders?path=${encodeURIComponent(at)}`}
        whole="The whole shelf"
        path={path}
        onPath={setPath}
        crates={crates}
      />
      <Group justify="flex-end" mt={12}>
        <CancelButton onClick={onClose} />
        <Button onClick={choose}>{path === '' ? 'Take the whole shelf' : 'Take this folder'}</Button>
      </Group>
    </Dialog>
  );
}
