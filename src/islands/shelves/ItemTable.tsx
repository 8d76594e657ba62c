import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { fileName } from '../../core/media/item';
import type { ListedItem } from '../../server/stock/views/item';
import type { ShelfView } from '../../server/stock/views/shelf';
import { api } from '../shared/api';
import { Bytes } from '../shared/figures';
import { Gone } from '../shared/Gone';
import { useAddressWord } from '../shared/use-address';
import { useShelfNames } from '../shared/use-shelf-names';
import { PathText } from '../shared/PathText';
import { sortedBy } from '../shared/table/column';
import { useOrder } from '../shared/table/use-order';
import { useWindow } from '../shared/table/use-window';
import { VirtualTable, type Column } from '../shared/table/VirtualTable';
import { ItemFacts } from './ItemFacts';
import { codecWords, lengthWords, pictureWords, rateWords, startWords } from './item-words';
import { Empty } from '../shared/Empty';
import { Dialog } from '../shared/Dialog';

const COLUMNS: readonly Column<ListedItem>[] = [
  {
    key: 'path',
    title: 'File',
    width: 'minmax(200px, 1.6fr)',
    cell: ({ place, partOf }) => <PathText path={place.path} called={partOf} />,
  },
  {
    key: 'codec',
    title: 'Codec',
    width: '96px',
    cell: (item) =>
      (item.damage ?? item.problem) ? (
        <span className="bad" title={item.damage ?? item.problem ?? undefined}>
          ✕ {item.damage === undefined ? 'unreadable' : 'damaged'}
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

const SORTED_BY = sortedBy(COLUMNS);

/** `among`: the part of the stock that is listed; null for all. */
export function ItemTable({ filter, among, shelf }: { filter: string; among: string | null; shelf: ShelfView | null }) {
  const [selected, setSelected] = useState<string | null>(null);
  // The item that is looked at stands in the address.
  const [shownId, setShown] = useAddressWord('item');
  const { data: shown, error: gone } = useQuery({
    queryKey: ['items', 'one', shownId],
    queryFn: () => api.get(`items/${shownId}`),
    enabled: shownId !== null,
    retry: false,
  });
  const nameOf = useShelfNames();
  const sort = useOrder('Items', SORTED_BY);
  const filtered = filter.trim() !== '' || among !== null;
  const query = new URLSearchParams({ filter, sort: sort.key, down: String(sort.down), ...(among === null ? {} : { among }) });
  const items = useWindow(['items'], shelf ? `shelves/${shelf.id}/items?${query}` : null);
  return (
    <>
      {shownId !== null && gone && <Gone what="The item" onLeave={() => setShown(null)} />}
      <VirtualTable
        label="Items"
        rows={items.rows}
        pages={items}
        columns={COLUMNS}
        rowKey={(item) => item.id}
        selected={selected}
        onSelect={setSelected}
        onOpen={(item) => setShown(item.id)}
        asked={items.asked}
        sort={sort}
        onSort={sort.sortBy}
        empty={
          <Empty title={filtered ? 'Nothing matches the filter' : shelf?.stocktakeAt ? 'There is no media on this shelf' : 'No stocktake yet'}>
            {filtered
              ? 'Clear it, or list all files, to see everything.'
              : shelf?.stocktakeAt
                ? 'Files that are put here show after the next stocktake.'
                : 'Look for changes to read what each file is.'}
          </Empty>
        }
      />
      <Dialog
        opened={shownId !== null && shown !== undefined}
        onClose={() => setShown(null)}
        title={shown ? fileName(shown.place.path) : ''}
        size="lg"
      >
        {shown && <ItemFacts item={shown} shelfName={shelf?.name ?? ''} nameOf={nameOf} attached={shelf?.attached ?? false} />}
      </Dialog>
    </>
  );
}
