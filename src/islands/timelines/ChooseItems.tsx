import { Button, Group, Select, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useState } from 'react';
import type { Item } from '../../core/media/item';
import { nameOf } from '../../core/project/bins';
import { codecWords, lengthWords } from '../shelves/item-words';
import { plural } from '../shared/figures';
import { IconSearch } from '../shared/icons';
import { PathText } from '../shared/PathText';
import { useWindow } from '../shared/table/use-window';
import { VirtualTable, type Column } from '../shared/table/VirtualTable';
import { Empty } from '../shared/Empty';
import { CancelButton, Dialog } from '../shared/Dialog';
import { askedOf } from '../shared/asked';
import { useShelves } from '../shared/questions';

/** How many become clips at once. */
const MOST_TICKED = 10_000;

const COLUMNS: readonly Column<Item>[] = [
  { key: 'path', title: 'File', width: '1fr', cell: (item) => <PathText path={item.place.path} copy={false} /> },
  { key: 'codec', title: 'Codec', width: '90px', cell: (item) => codecWords(item.facts) },
  { key: 'reel', title: 'Reel', width: '70px', cell: (item) => <span className="mono">{item.facts.reel ?? '–'}</span> },
  { key: 'length', title: 'Length', width: '100px', cell: (item) => <span className="mono">{lengthWords(item.facts)}</span> },
];

interface Props {
  readonly bin: string;
  readonly onClose: () => void;
  readonly onTake: (itemIds: readonly string[]) => Promise<unknown>;
}

/** Items of a shelf to make clips of. Files of one recording become one clip. */
export function ChooseItems({ bin, onClose, onTake }: Props) {
  const listed = useShelves();
  const { data: shelves = [] } = listed;
  const [chosen, setChosen] = useState<string | null>(null);
  const shelfId = chosen ?? shelves.find((shelf) => shelf.attached)?.id ?? null;
  const [filter, setFilter] = useState('');
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const [busy, setBusy] = useState(false);
  const [asked] = useDebouncedValue(filter, 150);
  const query = new URLSearchParams({ filter: asked, only: 'media' });
  const list = shelfId === null ? null : `shelves/${shelfId}/items?${query}`;
  const media = useWindow(['items'], list);
  const total = media.total ?? 0;
  /** All that the filter leaves, whether it was looked at or not. */
  const tickAll = async () => {
    const rows = total === 0 ? [] : await media.reach(0, Math.min(total, MOST_TICKED) - 1);
    setTicked(new Set(rows.map(({ id }) => id)));
  };
  const [selected, setSelected] = useState<string | null>(null);
  return (
    <Dialog opened onClose={onClose} title={bin === '' ? 'Clips from what is on the shelves' : `Clips for ${nameOf(bin)}`} size="xl">
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
        <Button size="xs" variant="default" disabled={total === 0} onClick={() => void tickAll()}>
          Tick all {Math.min(total, MOST_TICKED)}
        </Button>
      </Group>
      <div className="choose-list">
        <VirtualTable
          label="Items of the shelf"
          rows={media.rows}
          pages={media}
          columns={COLUMNS}
          rowKey={(item) => item.id}
          asked={shelfId === null ? askedOf(listed) : media.asked}
          selected={selected}
          onSelect={setSelected}
          ticks={{ ticked, onTick: (ids) => setTicked(new Set([...ids].slice(0, MOST_TICKED))), words: (item) => `Take ${item.place.path}` }}
          empty={
            <Empty title={asked.trim() === '' ? 'No media here' : 'Nothing is called that'}>
              {asked.trim() === ''
                ? 'Look for changes on the shelf first, or look on another one.'
                : 'Change what you look for, or look on another shelf.'}
            </Empty>
          }
        />
      </div>
      <Group justify="space-between" mt={14}>
        <span className="soft">Picture and sound files of one recording become one clip.</span>
        <Group gap={8}>
          <CancelButton onClick={onClose} />
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
    </Dialog>
  );
}
