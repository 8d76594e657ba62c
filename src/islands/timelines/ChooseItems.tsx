import { Button, Checkbox, Group, Modal, Select, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import type { Item } from '../../core/media/item';
import { nameOf } from '../../core/project/bins';
import type { ShelfView } from '../../server/api/views';
import { codecWords, lengthWords } from '../shelves/item-words';
import { api } from '../shared/api';
import { plural } from '../shared/figures';
import { IconSearch } from '../shared/icons';
import { PathText } from '../shared/PathText';
import { VirtualTable, type Column } from '../shared/VirtualTable';

interface Props {
  readonly bin: string;
  readonly onClose: () => void;
  readonly onTake: (itemIds: readonly string[]) => Promise<unknown>;
}

/** Items of a shelf to make clips of. Files of one recording become one clip. */
export function ChooseItems({ bin, onClose, onTake }: Props) {
  const { data: shelves = [] } = useQuery({ queryKey: ['shelves'], queryFn: () => api.get<ShelfView[]>('shelves') });
  const [chosen, setChosen] = useState<string | null>(null);
  const shelfId = chosen ?? shelves.find((shelf) => shelf.attached)?.id ?? null;
  const { data: items = [] } = useQuery({
    queryKey: ['items', shelfId],
    queryFn: () => api.get<Item[]>(`shelves/${shelfId}/items`),
    enabled: shelfId !== null,
  });
  const [filter, setFilter] = useState('');
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const [busy, setBusy] = useState(false);
  const media = useMemo(() => {
    const words = filter.toLowerCase().split(/\s+/);
    return items.filter(
      (item) => item.facts.kind !== 'other' && words.every((word) => `${item.place.path} ${item.facts.reel ?? ''}`.toLowerCase().includes(word)),
    );
  }, [items, filter]);
  const toggle = (id: string) =>
    setTicked((old) => {
      const next = new Set(old);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  const columns: readonly Column<Item>[] = [
    {
      key: 'tick',
      title: '',
      width: '18px',
      cell: (item) => (
        <Checkbox
          size="xs"
          aria-label={`Take ${item.place.path}`}
          checked={ticked.has(item.id)}
          onChange={() => toggle(item.id)}
          onClick={(event) => event.stopPropagation()}
        />
      ),
    },
    { key: 'path', title: 'File', width: '1fr', cell: (item) => <PathText path={item.place.path} copy={false} /> },
    { key: 'codec', title: 'Codec', width: '90px', cell: (item) => codecWords(item.facts) },
    { key: 'reel', title: 'Reel', width: '70px', cell: (item) => <span className="mono">{item.facts.reel ?? '–'}</span> },
    { key: 'length', title: 'Length', width: '100px', cell: (item) => <span className="mono">{lengthWords(item.facts)}</span> },
  ];
  return (
    <Modal opened onClose={onClose} title={bin === '' ? 'Clips from what is on the shelves' : `Clips for ${nameOf(bin)}`} size="xl">
      <Group gap={8} mb={10}>
        <Select
          size="xs"
          w={190}
          aria-label="Shelf"
          data={shelves.map((shelf) => ({ value: shelf.id, label: shelf.attached ? shelf.name : `${shelf.name} · unplugged` }))}
          value={shelfId}
          onChange={setChosen}
          allowDeselect={false}
        />
        <TextInput
          size="xs"
          flex={1}
          aria-label="Find an item"
          placeholder="Find by path or reel"
          leftSection={<IconSearch size={14} />}
          value={filter}
          onChange={(event) => setFilter(event.currentTarget.value)}
        />
        <Button size="xs" variant="default" disabled={media.length === 0} onClick={() => setTicked(new Set(media.map((item) => item.id)))}>
          Tick all {media.length}
        </Button>
      </Group>
      <div style={{ height: 380, display: 'flex', flexDirection: 'column' }}>
        <VirtualTable
          label="Items of the shelf"
          rows={media}
          columns={columns}
          rowKey={(item) => item.id}
          selected={null}
          onSelect={(id) => id && toggle(id)}
          empty={
            <div className="empty">
              <b>No media here</b>Take stock of the shelf first, or look on another one.
            </div>
          }
        />
      </div>
      <Group justify="space-between" mt={14}>
        <span className="soft">Picture and sound files of one recording become one clip.</span>
        <Group gap={8}>
          <Button variant="default" onClick={onClose}>
            Cancel
          </Button>
          <Button
            disabled={ticked.size === 0}
            loading={busy}
            onClick={() => {
              setBusy(true);
              void onTake([...ticked]).finally(() => setBusy(false));
            }}
          >
            Make clips of {plural(ticked.size, 'item')}
          </Button>
        </Group>
      </Group>
    </Modal>
  );
}
