import { Button, Select, TextInput } from '@mantine/core';
import { useMemo } from 'react';
import { allFolders, REST } from '../../core/scheme/scheme';
import type { FlowLink, SortRow } from '../../core/planning/sort/sort-rows';
import type { SortSettings } from '../../core/planning/sort/settings';
import { joinPath } from '../../core/media/item';
import { Empty } from '../shared/Empty';
import { Bytes, plural } from '../shared/figures';
import { IconSearch } from '../shared/icons';
import { Menu } from '../shared/Menu';
import { PathText } from '../shared/PathText';
import { useHidden } from '../shared/table/use-hidden';
import { VirtualTable, type Column } from '../shared/table/VirtualTable';
import type { ListWindow } from '../shared/table/use-window';
import { useShelfNames } from '../shared/use-shelf-names';
import { NewName } from './NewName';

/** What the list is called. */
export const SORTED_FILES = 'Files that are sorted';

export const rowDragId = (unitId: string) => `unit ${unitId}`;

interface Props {
  readonly settings: SortSettings;
  /** The project's own folder, below its shelf. */
  readonly root: string;
  readonly list: ListWindow<SortRow>;
  readonly flow: readonly FlowLink[];
  readonly group: string;
  readonly onGroup: (group: string) => void;
  readonly filter: string;
  readonly onFilter: (filter: string) => void;
  readonly sort: { readonly key: string; readonly down: boolean };
  readonly onSort: (key: string) => void;
  readonly selected: string | null;
  readonly onSelect: (id: string | null) => void;
  readonly ticked: ReadonlySet<string>;
  /** Rows of the ticked. */
  readonly inHand: readonly SortRow[];
  readonly onTick: (ticked: ReadonlySet<string>, rows: readonly SortRow[]) => void;
  readonly onMove: (unitIds: readonly string[], folderId: string | null) => void;
  /** The folders of these rows stay whole, or do not any more. */
  readonly onWhole: (whole: boolean, rows: readonly SortRow[]) => void;
}

const keyOf = (row: SortRow) => row.unitId;

/** What lands in the chosen folder, row by row: where from, under which name, and why there. */
export function SortRows(props: Props) {
  const { settings, root, list, flow, group, onGroup, filter, onFilter, sort, onSort, selected, onSelect, ticked, inHand, onTick, onMove, onWhole } =
    props;
  const shelfName = useShelfNames();
  const columns = useMemo(() => columnsOf(shelfName, root), [shelfName, root]);
  const sources = useMemo(() => [...new Map(flow.map(({ source, sourceName }) => [source, sourceName]))], [flow]);
  const isScheme = settings.structure === 'scheme';
  const hidden = useHidden(list, keyOf, ticked);
  const moved = new Set(settings.exceptions.map(({ unitId }) => unitId));
  return (
    <div className="sort-rows">
      <div className="controls">
        <TextInput
          data-filter=""
          size="xs"
          flex={1}
          placeholder="Find by path or name"
          aria-label="Find a file"
          leftSection={<IconSearch size={14} />}
          value={filter}
          onChange={(event) => onFilter(event.currentTarget.value)}
        />
        <Select
          size="xs"
          w={196}
          aria-label="Which files"
          data={[
            ...(isSpecial(group) ? [] : [{ value: group, label: 'In this folder' }]),
            { value: '', label: 'All that is sorted' },
            { value: 'renamed', label: 'Get another name' },
            { value: 'stays', label: 'Stay where they are' },
            { group: 'From', items: sources.map(([source, name]) => ({ value: `from ${source}`, label: name })) },
          ]}
          value={group}
          allowDeselect={false}
          onChange={(value) => onGroup(value ?? '')}
        />
        {ticked.size > 0 && (
          <Menu position="bottom-end">
            <Menu.Target>
              <Button size="xs" variant="default">
                With {ticked.size} ticked{hidden ? `, ${hidden} of them not in this list` : ''} …
              </Button>
            </Menu.Target>
            <Menu.Dropdown mah={340} className="scrolls">
              {inHand.some(({ kind }) => kind !== 'card' && kind !== 'folder') && (
                <Menu.Item onClick={() => onWhole(true, inHand)}>Keep their folders whole</Menu.Item>
              )}
              {inHand.some(({ kind }) => kind === 'folder') && (
                <Menu.Item onClick={() => onWhole(false, inHand)}>Take the folders apart again</Menu.Item>
              )}
              {isScheme && (
                <>
                  <Menu.Label>Move to</Menu.Label>
                  {[...ticked].some((id) => moved.has(id)) && <Menu.Item onClick={() => onMove([...ticked], null)}>where its rule says</Menu.Item>}
                  {allFolders(settings.scheme.folders).map(({ id, way }) => (
                    <Menu.Item key={id} onClick={() => onMove([...ticked], id)}>
                      {way.map(({ name }) => name).join(' / ')}
                    </Menu.Item>
                  ))}
                  <Menu.Item onClick={() => onMove([...ticked], REST)}>{settings.scheme.rest}</Menu.Item>
                </>
              )}
            </Menu.Dropdown>
          </Menu>
        )}
      </div>
      <VirtualTable
        label={SORTED_FILES}
        asked={list.asked}
        rows={list.rows}
        pages={list}
        columns={columns}
        sort={sort}
        onSort={onSort}
        rowKey={keyOf}
        selected={selected}
        onSelect={onSelect}
        ticks={{ ticked, onTick, words: (row) => `Tick ${row.oldName}` }}
        {...(isScheme
          ? {
              drag: {
                id: (row: SortRow) => rowDragId(row.unitId),
                name: (row: SortRow) => row.oldName,
                words: (row: SortRow) => (ticked.has(row.unitId) && ticked.size > 1 ? plural(ticked.size, 'row') : row.oldName),
              },
            }
          : {})}
        empty={
          filter !== '' ? (
            <Empty title="Nothing is called that">{null}</Empty>
          ) : group === '' ? (
            <NothingYet />
          ) : (
            <Empty title="Nothing lands here">Drag files onto this folder, or give it a rule that takes some.</Empty>
          )
        }
      />
    </div>
  );
}

/** Said of a sort of nothing. */
export function NothingYet() {
  return <Empty title="Nothing to sort yet">Bring in a timeline, put clips into bins, or choose a shelf or a folder above.</Empty>;
}

function isSpecial(group: string): boolean {
  return group === '' || group === 'renamed' || group === 'stays' || group.startsWith('from ');
}

function columnsOf(shelfName: (id: string) => string, root: string): readonly Column<SortRow>[] {
  return [
    { key: 'path', title: 'Now', width: 'minmax(92px, 1.25fr)', cell: ({ from }) => <PathText path={from.path} shelf={shelfName(from.shelfId)} /> },
    {
      key: 'name',
      title: 'Then',
      isName: false,
      width: 'minmax(92px, 1.25fr)',
      cell: (row) =>
        row.stays === null ? (
          <Lands row={row} root={root} />
        ) : (
          <span className="soft" title={row.stays}>
            {row.stays === 'in its place' ? 'in its place' : `stays: ${row.stays}`}
          </span>
        ),
    },
    {
      key: 'why',
      title: 'Why',
      width: 'minmax(44px, 0.45fr)',
      unsorted: true,
      cell: ({ why, renamed, isException, openBy }) => {
        const words = [isException ? 'by hand' : why === 'by rule' ? 'rule' : why, ...renamed, ...(openBy ? [`open in ${openBy}`] : [])].join('; ');
        return (
          <span className={isException || openBy ? 'by-hand' : 'soft'} title={words}>
            {words}
          </span>
        );
      },
    },
    { key: 'size', title: 'Size', width: '62px', numeric: true, cell: ({ bytes }) => <Bytes value={bytes} /> },
  ];
}

/** The folder it goes to within the project's own; its name where that is another. */
function Lands({ row: { oldName, newName, folder, kind, files }, root }: { row: SortRow; root: string }) {
  const own = folder === root ? '' : folder.startsWith(`${root}/`) ? folder.slice(root.length + 1) : folder;
  const many =
    kind === 'file' ? '' : kind === 'take' ? `take of ${files}` : kind === 'sequence' ? `${files} frames` : `${kind}, ${plural(files, 'file')}`;
  return (
    <span className="path" title={joinPath(folder, newName)}>
      {own !== '' && (
        <span className="folder">
          <bdi>
            {own.split('/').join(' / ')}
            {oldName === newName ? '' : ' /\u00a0'}
          </bdi>
        </span>
      )}
      {oldName !== newName && (
        <span className="file">
          <NewName before={oldName} after={newName} />
        </span>
      )}
      {many && <span className="shelf"> · {many}</span>}
    </span>
  );
}
