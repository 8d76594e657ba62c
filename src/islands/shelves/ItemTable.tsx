import { Modal } from '@mantine/core';
import { useState } from 'react';
import type { Item } from '../../core/media/item';
import type { ShelfView } from '../../server/api/views';
import { Bytes } from '../shared/figures';
import { PathText } from '../shared/PathText';
import { useWindow } from '../shared/table/use-window';
import { VirtualTable, type Column } from '../shared/table/VirtualTable';
import { ItemFacts } from './ItemFacts';
import { codecWords, lengthWords, pictureWords, rateWords, startWords } from './item-words';
import { Empty } from '../shared/Empty';

const COLUMNS: readonly Column<Item>[] = [
  {
    key: 'path',
    title: 'File',
    width: 'minmax(200px, 1.6fr)',
    cell: (item) => <PathText path={item.place.path} />,
  },
  {
    key: 'codec',
    title: 'Codec',
    width: '96px',
    cell: (item) =>
      item.problem ? (
        <span className="bad" title={item.problem}>
          ✕ unreadable
        </span>
      ) : (
        codecWords(item.facts)
      ),
  },
  {
    key: 'picture',
    title: 'Picture or sound',
    width: '158px',
    cell: (item) => pictureWords(item.facts),
  },
  { key: 'rate', title: 'Rate', width: '44px', cell: (item) => rateWords(item.facts) },
  {
    key: 'length',
    title: 'Length',
    width: '94px',
    cell: (item) => <span className="mono">{lengthWords(item.facts)}</span>,
  },
  {
    key: 'start',
    title: 'Start timecode',
    width: '96px',
    cell: (item) => <span className="mono">{startWords(item.facts)}</span>,
  },
  {
    key: 'reel',
    title: 'Reel',
    width: '78px',
    cell: (item) => <span className="mono">{item.facts.reel ?? '–'}</span>,
  },
  { key: 'size', title: 'Size', width: '70px', numeric: true, cell: (item) => <Bytes value={item.sizeBytes} /> },
];

export function ItemTable({ filter, shelf }: { filter: string; shelf: ShelfView | null }) {
  const [selected, setSelected] = useState<string | null>(null);
  const [shown, setShown] = useState<Item | null>(null);
  const [sort, setSort] = useState<{ key: string; down: boolean }>({ key: 'path', down: false });
  const filtered = filter.trim() !== '';
  const query = new URLSearchParams({ filter, sort: sort.key, down: String(sort.down) });
  const items = useWindow<Item>(['items'], shelf ? `shelves/${shelf.id}/items?${query}` : null);
  return (
    <>
      <VirtualTable
        label="Items"
        rows={items.rows}
        onSee={items.see}
        columns={COLUMNS}
        rowKey={(item) => item.id}
        selected={selected}
        onSelect={setSelected}
        onOpen={setShown}
        sort={sort}
        onSort={(key) => setSort({ key, down: sort.key === key && !sort.down })}
        empty={
          items.total === undefined ? (
            <div className="empty">{items.error?.message ?? ''}</div>
          ) : (
            <Empty title={filtered ? 'Nothing matches the filter' : shelf?.stocktakeAt ? 'There is no media on this shelf' : 'No stocktake yet'}>
              {filtered
                ? 'Clear it to see everything.'
                : shelf?.stocktakeAt
                  ? 'Files that are put here show after the next stocktake.'
                  : 'Take stock to read what each file is.'}
            </Empty>
          )
        }
      />
      <Modal opened={shown !== null} onClose={() => setShown(null)} title={shown ? shown.place.path.split('/').at(-1) : ''} size="lg">
        {shown && <ItemFacts item={shown} shelfName={shelf?.name ?? ''} attached={shelf?.attached ?? false} />}
      </Modal>
    </>
  );
}
