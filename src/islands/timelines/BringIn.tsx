import { Button, Group, Modal, Select, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import type { ShelfView } from '../../server/api/views';
import type { Item } from '../../core/media/item';
import { api } from '../shared/api';
import type { BringInActions } from './use-bring-in';

/** A timeline from this computer, or one that stands on a shelf (whose relative links then resolve). */
export function BringIn({ opened, onClose, bringIn }: { opened: boolean; onClose: () => void; bringIn: BringInActions }) {
  const input = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const [shelfId, setShelfId] = useState<string | null>(null);
  const [path, setPath] = useState('');
  const { data: shelves = [] } = useQuery({ queryKey: ['shelves'], queryFn: () => api.get<ShelfView[]>('shelves'), enabled: opened });
  const { data: items = [] } = useQuery({
    queryKey: ['items', shelfId],
    queryFn: () => api.get<Item[]>(`shelves/${shelfId}/items`),
    enabled: opened && shelfId !== null,
  });
  const found = items.filter((item) => /\.(otio|edl)$/i.test(item.place.path)).map((item) => item.place.path);
  const take = async (files: Iterable<File>) => {
    for (const file of files) if (await bringIn.fromFile(file)) onClose();
  };
  return (
    <Modal opened={opened} onClose={onClose} title="Bring in a timeline">
      <div
        className={over ? 'drop-target over' : 'drop-target'}
        role="button"
        tabIndex={0}
        onClick={() => input.current?.click()}
        onKeyDown={(event) => event.key === 'Enter' && input.current?.click()}
        onDragOver={(event) => (event.preventDefault(), setOver(true))}
        onDragLeave={() => setOver(false)}
        onDrop={(event) => (event.preventDefault(), setOver(false), void take(event.dataTransfer.files))}
      >
        <b>Drop a file here, or choose one</b>
        <div className="soft">OpenTimelineIO (.otio) or a CMX 3600 list (.edl)</div>
        <input ref={input} type="file" accept=".otio,.edl,.json,.txt" hidden onChange={(event) => void take(event.currentTarget.files ?? [])} />
      </div>
      <p className="soft" style={{ margin: '16px 0 6px' }}>
        Or one that stands on a shelf:
      </p>
      <Group gap={8} align="end" wrap="nowrap">
        <Select
          aria-label="Shelf"
          placeholder="Shelf"
          w={150}
          data={shelves.filter((shelf) => shelf.attached).map((shelf) => ({ value: shelf.id, label: shelf.name }))}
          value={shelfId}
          onChange={setShelfId}
        />
        {found.length > 0 ? (
          <Select
            aria-label="Timeline file"
            placeholder="Timeline file"
            flex={1}
            data={found}
            value={path || null}
            onChange={(value) => setPath(value ?? '')}
            searchable
          />
        ) : (
          <TextInput
            aria-label="Path on the shelf"
            placeholder={shelfId ? 'Path on the shelf' : 'Choose a shelf first'}
            disabled={!shelfId}
            flex={1}
            value={path}
            onChange={(event) => setPath(event.currentTarget.value)}
          />
        )}
        <Button
          loading={bringIn.busy}
          disabled={!shelfId || path === ''}
          onClick={() => void bringIn.fromPlace({ shelfId: shelfId!, path }).then((done) => done && onClose())}
        >
          Bring in
        </Button>
      </Group>
    </Modal>
  );
}
