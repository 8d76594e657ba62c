import { Checkbox } from '@mantine/core';
import { folderOf } from '../../core/media/item';
import type { RelinkRow } from '../../core/planning/relink/relink-groups';
import { plural } from '../shared/figures';
import type { ListWindow } from '../shared/table/use-window';
import { VirtualTable, type Column } from '../shared/table/VirtualTable';

const STRENGTHS = {
  proven: ['spruce', 'same content'],
  matched: ['dusk', 'matched'],
  agrees: ['dusk', 'facts agree'],
  offered: ['ochre', 'look yourself'],
} as const;

function strengthWords(row: RelinkRow, match: RelinkRow['matches'][number]): readonly [string, string] {
  if (match.isStanding) return ['ochre', 'the new one'];
  if (row.reads.includes(match.itemId)) return ['dusk', 'read first'];
  // Of what was never linked something speaks against the file: no facts agree.
  return row.verdict !== null && match.strength === 'agrees' ? ['ochre', 'to compare'] : STRENGTHS[match.strength];
}

function bestOf(row: RelinkRow): RelinkRow['matches'][number] | undefined {
  return row.matches.find((match) => match.itemId === row.chosen) ?? row.matches[0];
}

interface Props {
  readonly rows: readonly (RelinkRow | undefined)[];
  readonly pages: ListWindow<RelinkRow>;
  readonly selected: string | null;
  readonly onOpen: (row: RelinkRow) => void;
  readonly onChoose: (row: RelinkRow, itemId: string | null) => void;
}

/** Clips of one reason; space takes or leaves the one in hand. */
export function ClipRows({ rows, pages, selected, onOpen, onChoose }: Props) {
  const toggle = (row: RelinkRow) => {
    const best = bestOf(row);
    if (best) onChoose(row, row.chosen === null ? best.itemId : null);
  };
  const columns: readonly Column<RelinkRow>[] = [
    {
      key: 'take',
      title: '',
      width: '18px',
      cell: (row) => (
        <Checkbox
          size="xs"
          aria-label={`Relink ${row.name}`}
          disabled={row.matches.length === 0}
          title={row.matches.length > 0 ? undefined : 'Nothing was found that it could be linked to'}
          checked={row.chosen !== null}
          onChange={() => toggle(row)}
          onClick={(event) => event.stopPropagation()}
        />
      ),
    },
    {
      key: 'file',
      title: 'Clip',
      width: 'minmax(120px, 200px)',
      cell: (row) => (
        <span className="mono" title={row.fileName}>
          {row.fileName || row.name}
        </span>
      ),
    },
    {
      key: 'folder',
      title: 'Found in',
      width: 'minmax(0, 1fr)',
      cell: (row) => {
        const best = bestOf(row);
        return (
          <span className="mono soft" title={best?.place.path}>
            {best ? `${folderOf(best.place.path) || '(top)'} /` : 'not found where you looked'}
          </span>
        );
      },
    },
    { key: 'events', title: 'Used by', width: '70px', numeric: true, cell: (row) => <span className="soft">{plural(row.events, 'event')}</span> },
    {
      key: 'strength',
      title: '',
      width: '108px',
      numeric: true,
      cell: (row) => {
        const best = bestOf(row);
        return best && <span className={`pill ${strengthWords(row, best)[0]}`}>{strengthWords(row, best)[1]}</span>;
      },
    },
  ];
  return (
    <VirtualTable
      label="Clips of this reason"
      rows={rows}
      pages={pages}
      columns={columns}
      rowKey={(row) => row.key}
      selected={selected}
      onSelect={(key) => {
        const row = rows.find((entry) => entry?.key === key);
        if (row) onOpen(row);
      }}
      onOpen={toggle}
      empty={null}
    />
  );
}
